import { chartOperation } from "./charts/chart.js";
import { pictureOperation } from "./picture.js";
import { agreementOperations } from "./agreement/index.js";
import { fitOperations } from "./fit/index.js";
import { functionOperations } from "./functions/index.js";
import { lawOperations } from "./law/index.js";
import { fieldVersions } from "./field/index.js";
import type { Operation } from "./operation.js";
import { checkOperation, quantityVerbs } from "./quantity-verbs.js";
import { ruleVerbs } from "./rule-verbs.js";
import { runVerbs } from "./run-verbs.js";
import { tableVerbs } from "./table/index.js";

/** Operations that read a run's files; the worker carries them out, with the file's identity in their key. */
export const readVersions: Readonly<Record<string, number>> = {
  "run.table": 6,
  "run.lines": 7,
  "study.table": 6,
  ...fieldVersions,
};

/** Whether an operation reads files of one run. */
export const readsRun = (op: string): boolean => op !== "study.table" && Object.hasOwn(readVersions, op);

const all = [
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

/** Names and versions of all operations, as the manifest lists them. */
export function operationVersions(): Record<string, number> {
  const out: Record<string, number> = { ...readVersions };
  for (const o of all) out[o.name] = o.version;
  return Object.fromEntries(Object.entries(out).sort(([a], [b]) => (a < b ? -1 : 1)));
}
