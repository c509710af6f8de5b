import { emitWord } from "./emit-word.js";

export const reportWord = emitWord({
  name: "report",
  doc:
    "Gathers outputs, notes in Markdown, checks with their verdicts, the runs, what was left out and " +
    "where all of it comes from, as one HTML file that opens with no network and as PDF with " +
    "contents and page numbers. In the notes `{{name}}` fills in a value; on a line of its own it " +
    "puts that output there.",
  examples: [
    'emit.report("hand over", { title: "Doors of the cold store", notes: "# Findings\\n\\nNothing stands out.", formats: ["html"] })',
  ],
  signature: "(name: string, options?: ReportOptions): void",
  takes: "nothing",
});
