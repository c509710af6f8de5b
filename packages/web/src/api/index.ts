/**
 * All that the pages ask of the server, a file for each thing that is asked about. What comes back is checked against
 * the contract, kept, and asked for again when the live stream says that it is old. Pages and drafts import this.
 */
export { base as api } from "./base";
export { errorText } from "./error-text";
export { tagsOf } from "./tags";
export * from "./studies";
export * from "./following";
export * from "./survey";
export * from "./scripts";
export * from "./jobs";
export * from "./server";
