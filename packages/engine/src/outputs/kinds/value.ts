import { compactJson, stableJson } from "@oxtrum/core/exports";
import { sha256 } from "../../store/keys.js";
import { line, outputKind, say } from "./output-kind.js";

/** A number with its unit. */
export const value = outputKind("quantity", {
  kind: "value",
  files: ({ name, value: v }, names) => [{ file: `${names.path(name)}.json`, content: stableJson(v.quantity) }],
  told: ({ value: { quantity } }) => ({
    summary: say(quantity),
    notes: quantity.method === undefined ? [] : [quantity.method],
  }),
  digest: ({ value: v }) => sha256(compactJson(v)),
  inReport: "values",
  blocks: (shown) => [line(shown)],
  compares: "number",
});
