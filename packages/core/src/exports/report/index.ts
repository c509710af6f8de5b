/**
 * Reports: Markdown and blocks (headings, tables, charts, pictures, verdicts) go in, one HTML file that needs no
 * network, or a PDF with contents and page numbers, comes out. May import charts and the drawing of exports.
 */
export * from "./model.js";
export { markdownBlocks, plainOf } from "./markdown.js";
export { reportHtml } from "./html.js";
export { reportPdf } from "./pdf.js";
