/**
 * Kinds of outputs, a file each: files, what is told, views for the screen, blocks in reports, what is compared. The
 * word by which a script asks for one is in `verbs/emit`, a file of the same name. A report is none of them: it is made
 * of all others (`../report`).
 */
import { chart } from "./chart.js";
import { check } from "./check.js";
import type { OutputKind } from "./output-kind.js";
import { picture } from "./picture.js";
import { table } from "./table.js";
import { text } from "./text.js";
import { value } from "./value.js";

const kinds: ReadonlyMap<string, OutputKind> = new Map(
  [table, chart, picture, value, check, text as unknown as OutputKind].map((k) => [k.kind, k]),
);

/** A kind of output; undefined for a report. */
export const outputKindOf = (name: string): OutputKind | undefined => kinds.get(name);
