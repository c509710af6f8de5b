import fs from "node:fs";
import path from "node:path";

/**
 * Removes the files of a folder that were written longest ago, until so many are left.
 *
 * @param isOurs tells by its name whether a file is one of those; others stay
 */
export function forgetOldest(folder: string, most: number, isOurs: RegExp): void {
  const files = fs.readdirSync(folder).filter((f) => isOurs.test(f));
  if (files.length <= most) return;
  const age = (f: string): number => fs.statSync(path.join(folder, f), { throwIfNoEntry: false })?.mtimeMs ?? 0;
  const aged = files.map((f) => [age(f), f] as const).sort(([a], [b]) => a - b);
  for (const [, f] of aged.slice(0, files.length - most)) fs.rmSync(path.join(folder, f), { force: true });
}
