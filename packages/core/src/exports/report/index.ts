export * from "./model.js";
export { markdownBlocks, plainOf } from "./markdown.js";
export { reportHtml } from "./html.js";
export { reportPdf } from "./pdf.js";
