import { emitWord } from "./emit-word.js";

export const checkWord = emitWord({
  name: "check",
  doc: "An assertion with its limit. It never passes on what is missing.",
  examples: ['emit.check("cold enough", peaks.max("peak"), { below: "8 degC" })'],
  signature: "(name: string, quantity: Quantity, limits: Limits): void",
  takes: "check",
});
