import { markdownBlocks } from "@oxtrum/core/exports";
import { sha256 } from "../../store/keys.js";
import type { OutputKind } from "./output-kind.js";

const textOf = ({ options }: { readonly options: Readonly<Record<string, unknown>> }): string =>
  String(options["text"]);

/** A note in words. */
export const text: OutputKind<undefined> = {
  kind: "text",
  files: (asked, names) => [{ file: `${names.path(asked.name)}.txt`, content: `${textOf(asked)}\n` }],
  told: (asked) => ({ summary: textOf(asked).slice(0, 500), notes: [] }),
  digest: (asked) => sha256(textOf(asked)),
  inReport: "outputs",
  blocks: (shown) => markdownBlocks(textOf(shown)),
  compares: "words",
};
