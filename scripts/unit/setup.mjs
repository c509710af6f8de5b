// Tests import what they use from "@jest/globals"; this runner has it as globals.
import { register } from "node:module";
import fc from "fast-check";

// A failed property says with what it failed, in its message: no more than that is printed. Its cases are the same in
// every run of the tests, unless others are asked for: OXTRUM_SEED=random, or a number.
const asked = process.env.OXTRUM_SEED ?? "20260601";
fc.configureGlobal({ includeErrorInReport: true, ...(asked !== "random" && { seed: Number(asked) }) });
register(new URL("./hooks.mjs", import.meta.url));
