import { emitWord } from "./emit-word.js";

export const valueWord = emitWord({
  name: "value",
  doc: "A number.",
  examples: ['emit.value("warmest", peaks.max("peak"))'],
  signature: "(name: string, quantity: Quantity): void",
  takes: "quantity",
});
