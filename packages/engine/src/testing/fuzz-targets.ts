import { createHash } from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import type { FuzzTarget } from "@oxtrum/core/testing/fuzz";
import { archiveJob, readArchive } from "../job/archive.js";
import { withIndexes, type Manifest } from "../record/manifest.js";
import { OutputFolder } from "../outputs/output-folder.js";
import { manifestName } from "../outputs/own-outputs.js";
import { readDefinition } from "../definition/definition.js";
import { discoverRuns } from "../study/discover.js";
import { StudyTree } from "../definition/folders.js";

const sha = (t: string): string => createHash("sha256").update(t).digest("hex");

/** The archive of a small job. */
function smallArchive(folder: string): Uint8Array {
  const script = 'import { emit } from "oxtrum";\nemit.text("a", "b");\n';
  const plain = {
    oxtrum: 1,
    engine: "0",
    platform: { node: "20", system: "x", mathematics: "y" },
    script: { main: "a.ts", files: { "a.ts": { sha256: sha(script), text: script } } },
    inputs: { limit: { value: { value: 1, unit: "s" }, set: true } },
    runsAsked: null,
    studies: [
      {
        name: "s",
        definition: { oxtrum: 1, runs: { pattern: "runs/{n}" } },
        parameters: [],
        runs: [{ id: "r1", params: { fan: 50 } }],
      },
    ],
    operations: { "table.max": 1 },
    files: [],
    leftOut: [],
    conditions: [],
    indexes: [],
    digest: "",
    outputs: [
      {
        name: "a",
        kind: "text",
        script: "a.ts",
        line: 2,
        runs: 0,
        notes: [],
        leftOut: [],
        files: [{ file: "a.txt", size: 2, sha256: sha("b\n") }],
      },
    ],
  } as Manifest;
  const out = OutputFolder.open(folder);
  out.write([
    { file: "a.txt", content: "b\n" },
    { file: manifestName, content: JSON.stringify(withIndexes(plain, [])) },
  ]);
  out.place();
  return archiveJob(folder);
}

const definition = JSON.stringify({
  oxtrum: 1,
  title: "Doors",
  runs: { pattern: "runs/{fan:%}_{doorOpen:s}_{curtain}", table: "runs.csv", case: "case.json", exclude: ["test_*"] },
  parameters: { fan: { unit: "%", label: "fan" } },
  files: { hall: { path: ["monitors/hall.csv", "monitors/hall2.csv"], read: { delimiter: ";" } } },
  names: { door: ["DOOR_1"] },
  units: { fields: { x: "m", "T*": "K" } },
  runUnits: [{ run: "075_*", file: "**/*.csv", units: { T: "degC" } }],
  accept: { done: { table: "hall", value: "last(time)", above: "1000 s" } },
});

/** Readers of definitions and archives; their files are written below a folder that the caller removes. */
export function engineTargets(base = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-fuzz-"))): FuzzTarget[] {
  const study = path.join(base, "study");
  for (const r of ["050_40_none", "075_80_strip", "test_1"]) {
    fs.mkdirSync(path.join(study, "runs", r), { recursive: true });
    fs.writeFileSync(path.join(study, "runs", r, "case.json"), '{"fan": {"value": 50, "unit": "%"}}');
  }
  const archive = smallArchive(path.join(base, "out"));
  return [
    {
      name: "study definitions",
      seeds: [new Uint8Array(Buffer.from(definition))],
      read: (bytes) => {
        fs.writeFileSync(path.join(study, "oxtrum.study.json"), bytes);
        const d = readDefinition(study).definition;
        return { holds: JSON.stringify([d, discoverRuns(new StudyTree(study, d.links), d).runs]), said: false };
      },
    },
    {
      name: "parameter files",
      seeds: [
        new Uint8Array(Buffer.from('{"fan": {"value": 50, "unit": "%"}, "door": "40 s", "a": {"b": [1], "c": true}}')),
      ],
      read: (bytes) => {
        fs.rmSync(path.join(study, "oxtrum.study.json"), { force: true });
        fs.writeFileSync(path.join(study, "runs/050_40_none/case.json"), bytes);
        const found = discoverRuns(new StudyTree(study, []), readDefinition(study).definition);
        return { holds: JSON.stringify(found.runs[0]!.params), said: found.runs[0]!.problems.length > 0 };
      },
    },
    {
      name: "archives",
      seeds: [archive],
      read: (bytes) => {
        const file = path.join(base, "job.zip");
        fs.writeFileSync(file, bytes);
        return { holds: JSON.stringify(readArchive(file)), said: false };
      },
    },
  ];
}
