import { fork } from "node:child_process";
import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { manifestDigest, OutputFolder, readManifest, type Manifest } from "@oxtrum/engine";

const sha = (t: string): string => createHash("sha256").update(t).digest("hex");

/** Version k of some outputs: names come and go, contents change. */
export function outputsOf(k: number): { file: string; content: string }[] {
  const files = Array.from({ length: 12 }, (_, i) => ({
    file: `${(k + i) % 3 === 0 ? `run${i}/` : ""}o${(k * 5 + i) % 17}.csv`,
    content: `version ${k}, output ${i}\n`.repeat(200),
  }));
  const plain = {
    oxtrum: 1,
    engine: "0",
    platform: { node: "20", system: "x", mathematics: "y" },
    script: { main: "a.ts", files: {} },
    inputs: { version: { value: k, set: true } },
    runsAsked: null,
    studies: [],
    operations: {},
    files: [],
    leftOut: [],
    conditions: [],
    indexes: [],
    outputs: files.map((f) => ({
      name: f.file,
      kind: "text",
      script: "a.ts",
      line: 1,
      runs: 0,
      notes: [],
      leftOut: [],
      files: [{ file: f.file, size: f.content.length, sha256: sha(f.content) }],
    })),
  } as unknown as Manifest;
  const manifest = JSON.stringify({ ...plain, digest: manifestDigest(plain) });
  return [...files, { file: "manifest.json", content: manifest }];
}

/** What is wrong with a folder: a manifest that is there is true, and what is not ours is as it was. */
function wrongWith(folder: string, remark: string): string | undefined {
  if (fs.existsSync(folder) && fs.readFileSync(path.join(folder, "remarks.txt"), "utf8") !== remark)
    return "the remarks beside the outputs are gone";
  if (!fs.existsSync(path.join(folder, "manifest.json"))) return undefined;
  const m = readManifest(path.join(folder, "manifest.json"));
  for (const f of m.outputs.flatMap((o) => o.files)) {
    const full = path.join(folder, f.file);
    if (!fs.existsSync(full)) return `the manifest is there, and lacks ${f.file}`;
    if (sha(fs.readFileSync(full, "utf8")) !== f.sha256) return `the manifest is there, and ${f.file} is another one`;
  }
  return undefined;
}

/**
 * Kills a process at random moments while it places outputs, over and over in the same folder, and looks after each
 * kill whether outputs are whole or absent, whether the next job can go on, and whether what was beside them is still
 * there.
 */
export async function endurePlacing(base: string, rounds: number, random: () => number): Promise<string[]> {
  const folder = path.join(base, "placing");
  const remark = "not Oxtrum's";
  const broken: string[] = [];
  fs.mkdirSync(base, { recursive: true });
  for (let round = 0; round < rounds; round++) {
    // Now and then into a new folder.
    if (round % 25 === 0) fs.rmSync(folder, { recursive: true, force: true });
    const child = fork(fileURLToPath(new URL("./placing.child.js", import.meta.url)), [folder, String(round * 1000)], {
      stdio: "inherit",
    });
    const gone = new Promise((done) => child.once("exit", done));
    await new Promise((done) => child.once("message", done));
    await new Promise((done) => setTimeout(done, random() * 60));
    child.kill("SIGKILL");
    await gone;
    if (!fs.existsSync(path.join(folder, "remarks.txt")) && fs.existsSync(folder)) {
      if (round % 25 !== 0) broken.push(`round ${round}: the remarks are gone`);
      fs.writeFileSync(path.join(folder, "remarks.txt"), remark);
    }
    const before = wrongWith(folder, remark);
    if (before !== undefined) broken.push(`round ${round}: ${before}`);
    try {
      const out = OutputFolder.open(folder);
      for (const o of outputsOf(round)) out.write([o]);
      out.place();
      fs.writeFileSync(path.join(folder, "remarks.txt"), remark);
      const after = wrongWith(folder, remark);
      if (after !== undefined || readManifest(path.join(folder, "manifest.json")).inputs["version"]!.value !== round)
        broken.push(`round ${round}: after the next job: ${after ?? "it did not come to its end"}`);
      const wanted = new Set([...outputsOf(round).map((o) => o.file), "remarks.txt"]);
      const extra = fs
        .readdirSync(folder, { recursive: true, withFileTypes: true })
        .filter((f) => f.isFile())
        .map((f) => path.relative(folder, path.join(f.parentPath, f.name)))
        .filter((f) => !wanted.has(f));
      if (extra.length > 0) broken.push(`round ${round}: left over: ${extra.join(", ")}`);
    } catch (e) {
      broken.push(`round ${round}: the next job cannot go on: ${(e as Error).message}`);
    }
  }
  return broken;
}
