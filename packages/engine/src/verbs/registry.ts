import { chartOperation } from "./charts/chart.js";
import { pictureOperation } from "./picture.js";
import { agreementOperations } from "./agreement/index.js";
import { fitOperations } from "./fit/index.js";
import { functionOperations } from "./functions/index.js";
import { lawOperations } from "./law/index.js";
import { fieldReads } from "./field/index.js";
import type { Operation } from "./operation.js";
import { checkOperation, quantityVerbs } from "./quantity-verbs.js";
import { ruleVerbs } from "./rule-verbs.js";
import { runVerbs } from "./run-verbs.js";
import { tableReads } from "./table-reads.js";
import { tableVerbs } from "./table/index.js";

const all = [
  ...tableReads,
  ...fieldReads,
  ...tableVerbs.map((v) => v.operation),
  ...quantityVerbs,
  ...runVerbs,
  ...[...fitOperations, ...agreementOperations, ...lawOperations, ...functionOperations].map((o) => o.operation),
  ...ruleVerbs,
  checkOperation,
  chartOperation,
  pictureOperation,
];

/** All operations by name. */
export const operations: ReadonlyMap<string, Operation> = new Map(all.map((o) => [o.name, o]));
if (operations.size !== all.length) throw new Error("two operations share a name");

/** What an operation reads, if it reads files. */
export const readsOf = (op: string): Operation["reads"] => operations.get(op)?.reads;
/** Whether an operation reads files of one run. */
export const readsRun = (op: string): boolean => readsOf(op)?.of === "run";

/** Names and versions of all operations, as the manifest lists them. */
export function operationVersions(): Record<string, number> {
  const out: Record<string, number> = {};
  for (const o of all) out[o.name] = o.version;
  return Object.fromEntries(Object.entries(out).sort(([a], [b]) => (a < b ? -1 : 1)));
}
