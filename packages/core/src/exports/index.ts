export * from "./csv.js";
export * from "./json.js";
export * from "./draw.js";
