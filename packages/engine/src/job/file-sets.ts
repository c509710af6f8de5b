import type { SandboxStudy } from "../sandbox/protocol.js";
import type { Catalogue } from "../definition/catalogue-model.js";

/** Most runs have the same files: each set of them is said once. */
export function fileSets(lists: readonly string[][]): Pick<SandboxStudy, "fileSets" | "filesOf"> {
  const sets = new Map<string, number>();
  const filesOf = lists.map((l) => {
    const key = l.join("\0");
    if (!sets.has(key)) sets.set(key, sets.size);
    return sets.get(key)!;
  });
  return { fileSets: [...sets.keys()].map((k) => (k === "" ? [] : k.split("\0"))), filesOf };
}

/** Whether a run has a file by its logical name. */
export function logicalThere(c: Catalogue, name: string, files: Readonly<Record<string, unknown>>): boolean {
  const f = Object.hasOwn(c.definition.files, name) ? c.definition.files[name]! : undefined;
  if (f === undefined) return false;
  const paths = typeof f === "string" ? [f] : Array.isArray(f.path) ? f.path : [f.path];
  return paths.some((p) => Object.hasOwn(files, p));
}
