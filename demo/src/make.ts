import fs from "node:fs";
import path from "node:path";
import { writeHallStudy } from "./write-hall.js";
import { writePassageStudy } from "./write-passage.js";
import { writeRackStudy } from "./rack.js";
import { writeSumpStudy } from "./sump.js";

/**
 * Makes the demo studies in a folder; each is written to a temporary folder and then renamed,
 * so a stopped run leaves none incomplete.
 */
export function makeDemo(folder: string): string[] {
  const studies: [string, (folder: string) => void][] = [
    ["coldstore-doors", writeHallStudy],
    ["rack-impact", writeRackStudy],
    ["plate-cooler", writePassageStudy],
    ["glycol-sump", writeSumpStudy],
  ];
  fs.mkdirSync(folder, { recursive: true });
  return studies.flatMap(([name, write]) => {
    const target = path.join(folder, name);
    if (fs.existsSync(target)) return [];
    const aside = fs.mkdtempSync(path.join(folder, `.making-${name}-`));
    try {
      write(aside);
      fs.chmodSync(aside, 0o755);
      try {
        fs.renameSync(aside, target);
      } catch (e) {
        // Made in the meantime by someone else: it is there, and the same.
        if (!fs.existsSync(target)) throw e;
      }
    } finally {
      // Only what was just made here; gone once it has been renamed.
      fs.rmSync(aside, { recursive: true, force: true });
    }
    return [name];
  });
}

const asked = process.argv[2];
if (process.argv[1] && path.resolve(process.argv[1]) === path.resolve(new URL(import.meta.url).pathname)) {
  const folder = path.resolve(asked ?? "demo/data");
  const made = makeDemo(folder);
  process.stdout.write(
    made.length > 0 ? `made ${made.join(", ")} in ${folder}\n` : `the demo studies are in ${folder} already\n`,
  );
}
