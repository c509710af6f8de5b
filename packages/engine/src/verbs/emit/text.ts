import { emitWord } from "./emit-word.js";

export const textWord = emitWord({
  name: "text",
  doc: "A note.",
  examples: ['emit.text("note", "The loggers were calibrated in May.")'],
  signature: "(name: string, text: string): void",
  takes: "words",
});
