export * from "./description.js";
export * from "./palette.js";
export * from "./config.js";
export * from "./decimate.js";
export * from "./rich-text.js";
export * from "./short-names.js";
