/**
 * Text by which scripts ask for outputs (`emit.table`, `emit.check`, …), a file each: what they take, and their
 * declaration. How an output is made, shown and compared is in `outputs/kinds`, a file of the same name. Adding a kind
 * of output takes these two files and a line in each index.
 */
import { chartWord } from "./chart.js";
import { checkWord } from "./check.js";
import { pictureWord } from "./picture.js";
import { reportWord } from "./report.js";
import { tableWord } from "./table.js";
import { textWord } from "./text.js";
import { valueWord } from "./value.js";
import type { EmitWord } from "./emit-word.js";

/** In the order in which the Guide shows them. */
export const emitWords: readonly EmitWord[] = [
  tableWord,
  chartWord,
  pictureWord,
  valueWord,
  checkWord,
  reportWord,
  textWord,
];
