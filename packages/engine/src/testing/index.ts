/** Studies and jobs for tests. */
export * from "./small-study.js";
export { writeFieldDefinition, writeSmallField } from "./small-field.js";
export { runHere } from "./run-here.js";
