import { createHash } from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { withIndexes, type Manifest } from "../record/manifest.js";
import { safeName } from "./safe-name.js";
import { OutputFolder, removeOutputs } from "./output-folder.js";
import { manifestName, ownManifest } from "./own-outputs.js";
import { stagingPrefix, Staging, tidyStaging } from "./staging.js";

let base: string;
beforeEach(() => void (base = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-folder-"))));
afterEach(() => fs.rmSync(base, { recursive: true, force: true }));
const at = (...p: string[]): string => path.join(base, ...p);
const write = (file: string, text: string): void => {
  fs.mkdirSync(path.dirname(at(file)), { recursive: true });
  fs.writeFileSync(at(file), text);
};
const under = (folder: string): Record<string, string> =>
  Object.fromEntries(
    fs
      .readdirSync(at(folder), { recursive: true, withFileTypes: true })
      .filter((f) => f.isFile())
      .map((f) => path.relative(at(folder), path.join(f.parentPath, f.name)))
      .sort()
      .map((f) => [f, fs.readFileSync(at(folder, f), "utf8").slice(0, 20)]),
  );

const sha = (t: string): string => createHash("sha256").update(t).digest("hex");

/** A manifest of outputs with these files, as a job writes it. */
function manifestOf(files: Record<string, string>): string {
  const plain = {
    oxtrum: 1,
    engine: "0",
    platform: { node: "20", system: "x", mathematics: "y" },
    script: { main: "a.ts", files: {} },
    inputs: {},
    runsAsked: null,
    studies: [],
    operations: {},
    files: [],
    leftOut: [],
    conditions: [],
    indexes: [],
    digest: "",
    outputs: Object.entries(files).map(([file, text]) => ({
      name: file,
      kind: "text",
      script: "a.ts",
      line: 1,
      runs: 0,
      notes: [],
      leftOut: [],
      files: [{ file, size: text.length, sha256: sha(text) }],
    })),
  } as Manifest;
  return JSON.stringify(withIndexes(plain, []));
}
/** Writes outputs as a job does. */
function put(folder: string, files: Record<string, string>): void {
  const out = OutputFolder.open(at(folder));
  try {
    out.write(
      [...Object.entries(files), [manifestName, manifestOf(files)]].map(([file, content]) => ({
        file: file!,
        content: content!,
      })),
    );
    out.place();
  } finally {
    out.discard();
  }
}

describe("outputs replace an earlier job's files and nothing else", () => {
  it("in a new folder, in an empty one, and through links", () => {
    put("new/deep", { "a.csv": "1" });
    expect(Object.keys(under("new/deep"))).toEqual(["a.csv", "manifest.json"]);
    fs.mkdirSync(at("empty"));
    fs.symlinkSync(at("empty"), at("link"));
    fs.symlinkSync(at("later"), at("broken"));
    put("link", { "a.csv": "1" });
    put("broken", { "a.csv": "1" });
    expect(fs.lstatSync(at("link")).isSymbolicLink() && fs.lstatSync(at("broken")).isSymbolicLink()).toBe(true);
    expect(Object.keys(under("empty"))).toEqual(["a.csv", "manifest.json"]);
    expect(Object.keys(under("later"))).toEqual(["a.csv", "manifest.json"]);
  });
  it("remarks beside outputs stay, outputs that are not made any more go, folders that are empty then go too", () => {
    put("out", { "a.csv": "1", "runs/x/b.csv": "2", "runs/y/c.csv": "3" });
    write("out/remarks.txt", "mine");
    write("out/runs/y/mine.txt", "mine");
    put("out", { "a.csv": "new", "d.csv": "4" });
    expect(under("out")).toMatchObject({
      "a.csv": "new",
      "d.csv": "4",
      "remarks.txt": "mine",
      "runs/y/mine.txt": "mine",
    });
    expect(Object.keys(under("out"))).toHaveLength(5);
    expect(fs.existsSync(at("out/runs/x"))).toBe(false);
  });
  it("the same outputs again touch nothing", () => {
    put("out", { "a.csv": "1" });
    const before = fs.statSync(at("out/a.csv"), { bigint: true });
    put("out", { "a.csv": "1" });
    expect(fs.statSync(at("out/a.csv"), { bigint: true }).ino).toBe(before.ino);
    expect(ownManifest(at("out"))).toBeDefined();
  });
  it.each([
    ["a project with a manifest of its own", { "manifest.json": '{"name":"site"}', "index.html": "<p>" }],
    ["a manifest that is not JSON", { "manifest.json": "x", "data.bin": "1" }],
    ["a study's results beside a file called manifest.json", { "manifest.json": "[]", "run1/hall.csv": "t,T\n" }],
    ["other files and no manifest", { "notes.md": "mine" }],
    [
      "a manifest that was changed by hand",
      { "manifest.json": manifestOf({ "a.csv": "1" }).replace('"engine":"0"', '"engine":"1"'), "a.csv": "1" },
    ],
    ["a manifest that lists files above its folder", { "manifest.json": manifestOf({ "../victim": "1" }), x: "1" }],
  ])("refused: %s", (_, files) => {
    for (const [f, t] of Object.entries(files)) write(`there/${f}`, t);
    write("victim", "1");
    const before = under(".");
    expect(() => put("there", { "a.csv": "2" })).toThrow(/nothing there was touched: name an empty or a new folder/);
    expect(under(".")).toEqual(before);
  });
  it.each([
    ["a file of the user's", (): void => write("out/b.csv", "mine")],
    ["an output that was changed since", (): void => write("out/a.csv", "mended")],
    [
      "a link",
      (): void => {
        fs.rmSync(at("out/a.csv"));
        write("elsewhere.csv", "1");
        fs.symlinkSync(at("elsewhere.csv"), at("out/a.csv"));
      },
    ],
    ["a folder", (): void => void fs.mkdirSync(at("out/b.csv"))],
    [
      "a link in place of a folder",
      (): void => {
        fs.mkdirSync(at("other"));
        fs.symlinkSync(at("other"), at("out/sub"));
      },
    ],
  ])("refused where a name is taken by %s", (_, change) => {
    put("out", { "a.csv": "1" });
    change();
    const before = under("out");
    expect(() => put("out", { "a.csv": "2", "b.csv": "2", "sub/c.csv": "3" })).toThrow(
      /move (?:it|them) away, or name another folder/,
    );
    expect(under("out")).toEqual(before);
    expect(fs.existsSync(at("other/c.csv"))).toBe(false);
  });
  it("refused: a study, a folder in one, a folder around one, also through links; a file; a folder in a file", () => {
    write("data/study/run1/a.csv", "t");
    fs.symlinkSync(at("data/study"), at("alias"));
    const studies = [{ name: "s", folder: at("data/study") }];
    for (const f of ["data/study", "data/study/out", "data", ".", "alias", "alias/out"])
      expect(() => OutputFolder.open(at(f), studies)).toThrow(/the folder of the study "s"/);
    OutputFolder.open(at("data/study-out"), studies);
    write("file", "x");
    expect(() => OutputFolder.open(at("file"))).toThrow(/is a file/);
    expect(() => OutputFolder.open(at("file/out"))).toThrow(/a file, not a folder/);
    fs.symlinkSync(at("round"), at("round"));
    expect(() => OutputFolder.open(at("round"))).toThrow(/links in a circle/);
  });
  it("an output that cannot be written takes no other along", () => {
    const out = OutputFolder.open(at("out"));
    out.write([{ file: "good.csv", content: "1" }]);
    expect(() =>
      out.write([
        { file: "half.csv", content: "1" },
        { file: `${"x".repeat(300)}.csv`, content: "1" },
      ]),
    ).toThrow(/ENAMETOOLONG/);
    expect(() => out.write([{ file: "../escape.csv", content: "1" }])).toThrow(/outside/);
    out.write([{ file: manifestName, content: manifestOf({ "good.csv": "1" }) }]);
    out.place();
    expect(Object.keys(under("out"))).toEqual(["good.csv", "manifest.json"]);
    expect(fs.existsSync(at("escape.csv"))).toBe(false);
  });
});

describe("what a process that was ended leaves", () => {
  const dead = { pid: 2 ** 30, started: "1" };
  /** Writes outputs to the temporary folder and ends as a killed process does, `commit` told or not. */
  function killed(folder: string, files: Record<string, string>, commit: boolean): void {
    const there = fs.existsSync(at(folder));
    const s = Staging.begin(there ? at(folder) : base, at(folder));
    const all: Record<string, string> = { ...files, [manifestName]: manifestOf(files) };
    for (const [f, t] of Object.entries(all)) s.write(f, t);
    const log = path.join(s.folder, ".oxtrum-staging.jsonl");
    const lines = fs.readFileSync(log, "utf8").split("\n");
    lines[0] = JSON.stringify({ process: dead, target: at(folder) });
    if (commit) {
      const own = ownManifest(at(folder));
      const was = (f: string): string | undefined =>
        fs.existsSync(at(folder, f)) ? sha(fs.readFileSync(at(folder, f), "utf8")) : undefined;
      const remove = own
        ? [
            ...own.outputs.flatMap((o) => o.files).filter((f) => !Object.hasOwn(all, f.file)),
            { file: manifestName, sha256: was(manifestName)! },
          ]
        : [];
      const place = Object.entries(all).map(([file, t]) => ({
        file,
        sha256: sha(t),
        ...(was(file) !== undefined && { was: was(file) }),
      }));
      lines.splice(-1, 1, JSON.stringify({ commit: { remove, place } }), "");
    }
    fs.writeFileSync(log, lines.join("\n"));
  }
  it("before it had begun to place: the earlier outputs are whole, and nothing else is there", () => {
    put("out", { "a.csv": "1" });
    killed("out", { "a.csv": "2" }, false);
    expect(tidyStaging(at("out"))).toBe(false);
    expect(under("out")).toMatchObject({ "a.csv": "1" });
    expect(Object.keys(under("out"))).toHaveLength(2);
    killed("new", { "a.csv": "2" }, false);
    tidyStaging(at("new"));
    expect(fs.readdirSync(base).filter((f) => f.startsWith(stagingPrefix))).toEqual([]);
    expect(fs.existsSync(at("new"))).toBe(false);
  });
  it("after it had begun: the rest is done by whoever comes next", () => {
    put("out", { "a.csv": "1", "old.csv": "1" });
    killed("out", { "a.csv": "2", "b.csv": "2" }, true);
    tidyStaging(at("out"));
    expect(under("out")).toMatchObject({ "a.csv": "2", "b.csv": "2" });
    expect(Object.keys(under("out"))).toEqual(["a.csv", "b.csv", "manifest.json"]);
    expect(ownManifest(at("out"))).toBeDefined();
  });
  it("what somebody has put there meanwhile is not replaced", () => {
    put("out", { "a.csv": "1" });
    killed("out", { "b.csv": "2" }, true);
    write("out/b.csv", "mine");
    tidyStaging(at("out"));
    expect(fs.readFileSync(at("out/b.csv"), "utf8")).toBe("mine");
  });
  it.each([undefined, "", '{"proc', '{"process":{"pid":1'])("before its log told anything (%j)", (log) => {
    put("out", { "a.csv": "1" });
    const left = [`${stagingPrefix}${dead.pid}-${dead.started}-0`, `out/${stagingPrefix}${dead.pid}-${dead.started}-1`];
    for (const folder of left) {
      fs.mkdirSync(at(folder));
      if (log !== undefined) write(`${folder}/.oxtrum-staging.jsonl`, log);
    }
    expect(tidyStaging(at("out"))).toBe(false);
    for (const folder of left) expect(fs.existsSync(at(folder))).toBe(false);
    expect(Object.keys(under("out"))).toEqual(["a.csv", "manifest.json"]);
  });
  it("folders that only look like it are left alone", () => {
    const dead1 = `${stagingPrefix}${dead.pid}-${dead.started}-0`;
    const names = ["out.123.part", "out.123.old", `${stagingPrefix}1-0`, dead1];
    for (const name of names) write(`${name}/mine.txt`, "mine");
    write(`${dead1}/.oxtrum-staging.jsonl`, "");
    write(`${stagingPrefix}${dead.pid}--1/.oxtrum-staging.jsonl`, "my notes\n");
    put("out", { "a.csv": "1" });
    for (const name of names) expect(fs.readFileSync(at(name, "mine.txt"), "utf8")).toBe("mine");
    expect(fs.readFileSync(at(`${stagingPrefix}${dead.pid}--1/.oxtrum-staging.jsonl`), "utf8")).toBe("my notes\n");
  });
  it("a job that still runs keeps others out", () => {
    const a = OutputFolder.open(at("out"));
    const b = OutputFolder.open(at("out"));
    a.write([{ file: "a.csv", content: "1" }]);
    expect(() => b.write([{ file: "a.csv", content: "2" }])).toThrow(/another job is writing/);
    expect(() => OutputFolder.open(at("out"))).toThrow(/another job is writing/);
    a.discard();
    expect(fs.readdirSync(base)).toEqual([]);
  });
});

it("removing outputs removes what the manifest lists and is unchanged", () => {
  put("out", { "a.csv": "1", "b.csv": "2" });
  write("out/b.csv", "mine");
  removeOutputs(at("out"));
  expect(under("out")).toEqual({ "b.csv": "mine" });
  write("foreign/manifest.json", "{}");
  removeOutputs(at("foreign"));
  expect(under("foreign")).toEqual({ "manifest.json": "{}" });
});

it("names are cut by bytes, between characters, and stay apart", () => {
  const long = [..."界".repeat(100)].join("");
  const [a, b] = [safeName(`${long}1`), safeName(`${long}2`)];
  expect(Buffer.byteLength(a)).toBeLessThanOrEqual(120);
  expect(a).not.toBe(b);
  expect(a).toMatch(/^界+-[0-9a-f]{8}$/u);
  expect(safeName("short")).toBe("short");
});
