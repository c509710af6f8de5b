export { q, input } from "./quantities.js";
export { study, across } from "./runs.js";
export { chart, emit, picture } from "./outputs.js";
export { at } from "./sites.js";
export { fit } from "./fits.js";
export { law, calc, together } from "./laws.js";
