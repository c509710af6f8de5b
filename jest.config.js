import v8 from "node:v8";

// Most of what tests call is called a few times: functions are optimised later than elsewhere, after four times as much
// work. That takes a tenth of the processor time off.
v8.setFlagsFromString("--interrupt-budget=528000");

// Tests run as compiled by `tsc -b`: the same code as in production, workers included. Modules are loaded once per
// process, natively: without the runner's own loader, which takes longer than most tests.
export default {
  runner: "jest-light-runner",
  setupFiles: ["<rootDir>/scripts/unit/setup.mjs"],
  testEnvironment: "node",
  testSequencer: "<rootDir>/scripts/unit/sequence.mjs",
  roots: [
    "<rootDir>/packages/core/dist",
    "<rootDir>/packages/engine/dist",
    "<rootDir>/packages/server/dist",
    "<rootDir>/packages/cli/dist",
    "<rootDir>/packages/contract/dist",
    "<rootDir>/demo/dist",
  ],
  testMatch: ["**/*.test.js"],
  transform: {},
  testTimeout: 180_000,
  maxWorkers: 2,
  forceExit: true,
};
