// Tests import what they use from "@jest/globals"; this runner has it as globals.
import { register } from "node:module";

register(new URL("./hooks.mjs", import.meta.url));
