import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";

/** The demo's own folder: scripts, and what makes its data. */
export const demo = fileURLToPath(new URL("../../../../demo", import.meta.url));
const kept = fileURLToPath(new URL("../../../../node_modules/.cache/oxtrum-demo", import.meta.url));

/**
 * A folder with the demo's studies. They are made once for all tests, anew when what makes them has changed; tests read
 * them and write elsewhere.
 */
export function demoData(): string {
  const programs = path.join(demo, "dist");
  const digest = createHash("sha256");
  for (const f of fs
    .readdirSync(programs)
    .filter((n) => n.endsWith(".js"))
    .sort())
    digest.update(fs.readFileSync(path.join(programs, f)));
  const name = digest.digest("hex").slice(0, 16);
  const folder = path.join(kept, name);
  if (fs.existsSync(path.join(folder, "whole"))) return path.join(folder, "data");
  for (const old of fs.existsSync(kept) ? fs.readdirSync(kept) : [])
    if (old !== name) fs.rmSync(path.join(kept, old), { recursive: true, force: true });
  const made = spawnSync(process.execPath, [path.join(programs, "make.js"), path.join(folder, "data")]);
  if (made.status !== 0) throw new Error(made.stderr.toString());
  fs.writeFileSync(path.join(folder, "whole"), "");
  return path.join(folder, "data");
}
