import unit from "./jest.config.js";

// Tests of the page's code have a document and a window, which would be there for all that shares their threads: they
// run in a process of their own.
export default { ...unit, roots: ["<rootDir>/packages/web/test-build"], maxWorkers: 1 };
