export * from "./descriptive.js";
export * from "./events.js";
export * from "./across.js";
export * from "./baseline.js";
