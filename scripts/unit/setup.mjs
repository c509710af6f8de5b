// Tests import what they use from "@jest/globals"; this runner has it as globals.
import { register } from "node:module";
import fc from "fast-check";

// A failed property says with what it failed, in its message: no more than that is printed.
fc.configureGlobal({ includeErrorInReport: true });
register(new URL("./hooks.mjs", import.meta.url));
