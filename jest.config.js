// Tests run as compiled by `tsc -b`: the same code as in production, workers included.
export default {
  testEnvironment: "node",
  roots: [
    "<rootDir>/packages/core/dist",
    "<rootDir>/packages/engine/dist",
    "<rootDir>/packages/server/dist",
    "<rootDir>/packages/cli/dist",
    "<rootDir>/demo/dist",
  ],
  testMatch: ["**/*.test.js"],
  transform: {},
  testTimeout: 180_000,
  maxWorkers: 2,
  forceExit: true,
};
