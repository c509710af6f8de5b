import type { StudySummary } from "@oxtrum/contract";

/** The table that tells most at first sight: the one with the most kinds of quantities. */
export function richest(files: readonly StudySummary["files"][number][]): StudySummary["files"][number] | undefined {
  const kinds = (f: StudySummary["files"][number]): number =>
    new Set(f.columns!.flatMap((c) => (c.unit === null ? [] : [c.unit]))).size;
  return files.reduce<StudySummary["files"][number] | undefined>(
    (best, f) => (best === undefined || kinds(f) > kinds(best) ? f : best),
    undefined,
  );
}
