import { compactJson, stableJson } from "@oxtrum/core/exports";
import { sha256 } from "../../store/keys.js";
import { outputKind, say } from "./output-kind.js";

/** A value with its limit: passed, failed or undecided. */
export const check = outputKind("check", {
  kind: "check",
  files: ({ name, value }, names) => [
    { file: `${names.path(name)}.json`, content: stableJson({ ...value.check, leftOut: value.left ?? [] }) },
  ],
  told: ({ value: { check: c } }) => ({
    verdict: c.verdict,
    summary: `${c.verdict}: ${say(c.value)}, limit: ${c.limit}${c.reason === undefined ? "" : ` (${c.reason})`}`,
    notes: c.value.method === undefined ? [] : [c.value.method],
  }),
  digest: ({ value }) => sha256(compactJson(value)),
  inReport: "checks",
  blocks: ({ value, record }) => [
    { kind: "verdict", verdict: value.check.verdict, text: `${record.name}: ${record.summary ?? ""}` },
  ],
  compares: "number",
});
