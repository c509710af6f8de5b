export * from "./csv.js";
export * from "./json.js";
export * from "./draw.js";
export { toPoints } from "./points.js";
