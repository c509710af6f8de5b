/** Why a study is due to be scanned again: runs or files came or went, or runs came to their end; files only grew. */
export type Due = "moved" | "grown";

/** Milliseconds after a scan: at the earliest, in times of what the scan took, and at the latest. */
const PACE: Readonly<Record<Due, { readonly least: number; readonly scans: number; readonly most: number }>> = {
  moved: { least: 4000, scans: 20, most: 60_000 },
  grown: { least: 8000, scans: 60, most: 300_000 },
};

/**
 * How long a scanned study is left alone, ms: a scan should not take much of a machine or a slow disk. A single one
 * that took long, because all was busy, does not put off the next for longer than one would wait for a new run.
 *
 * @param took what the last scan took, ms, without what it waited for its turn
 * @example pauseAfter("moved", 500) // 10000
 */
export const pauseAfter = (due: Due, took: number): number =>
  Math.min(PACE[due].most, Math.max(PACE[due].least, PACE[due].scans * took));
