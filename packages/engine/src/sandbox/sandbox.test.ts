import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import { runScript, smallStudy, type SmallStudy } from "../testing/small-study.js";

let s: SmallStudy;
beforeAll(() => void (s = smallStudy()));
afterAll(() => s.remove());

const any = "// @ts-nocheck\n";

describe("a script can reach the library and nothing else", () => {
  it.each([
    ["the clock", "new Date()", /there is no Date in a script/],
    ["chance", "Math.random()", /there is no chance in a script/],
    ["the process", "process.exit()", /process/],
    ["the network", 'fetch("http://localhost")', /fetch/],
    ["code from text", 'eval("1")', /there is no eval/],
    ["code from constructors", '(() => 1).constructor("return 1")()', /code made from text/],
    ["weak references", "new WeakRef({})", /there is no WeakRef/],
  ])("%s", async (_, code, message) => {
    const r = await runScript(s, `${any}emit.text("a", String(${code}));`);
    expect(r.exit).toBe(1);
    expect(r.errors[0]).toMatch(message);
    expect(r.errors[0]).toMatch(/^main\.ts:3 /);
  });
  it("imports", async () => {
    expect(
      (await runScript(s, `import fs from "node:fs";\nemit.text("a", String(fs));`, { asUsers: true })).errors[0],
    ).toMatch(/"node:fs" cannot be imported/);
  });
  it("loops that never end are stopped", async () => {
    const r = await runScript(s, `let n = 0;\nwhile (n < 1) { try { for (;;) n *= 1; } catch { n = 0; } }`, {
      scriptSeconds: 0.5,
    });
    expect(r.errors[0]).toMatch(/ran longer than 0.5 s/);
  });
  it("memory is bounded", async () => {
    // About 600 MB: more than a script may have, and far less than an interpreter without a bound would take.
    const r = await runScript(
      s,
      `const all = [];\nfor (let k = 0; k < 600; k++) all.push(new Uint8Array(1e6).fill(k));`,
      { scriptSeconds: 60 },
    );
    expect(r.exit).toBe(1);
    expect(r.errors[0]).toMatch(/memory/);
  });
  it("endless recursion is an error at its line", async () => {
    const r = await runScript(s, `const f = (n) => f(n + 1) + 1;\nemit.text("a", String(f(1)));`);
    expect(r.exit).toBe(1);
    expect(r.errors[0]).toMatch(/stack|recursion|memory/i);
  });
  it("promises have no place", async () => {
    expect(
      (
        await runScript(s, `${any}emit.table("a", study("small").runs.rows(async () => ({ a: 1 })));`, {
          asUsers: true,
        })
      ).errors[0],
    ).toMatch(/there is no "async" in a script/);
  });
});

describe("mistakes in a script are told at their line", () => {
  it.each([
    [
      "the same name twice",
      `emit.text("a", "b");\nemit.text("a", "c");`,
      /main\.ts:3 emit\.text: line 2 has emitted "a" already/,
    ],
    [
      "a quantity as a plain number",
      `${any}const x = q("1 s");\nemit.text("a", "v" + (x + 1));`,
      /main\.ts:4 a quantity is not/,
    ],
    ["units that do not agree", `emit.value("a", q("1 s").plus(q("1 m")));`, /main\.ts:2 m cannot be converted to s/],
    ["a study that is not there", `${any}study("smal");`, /main\.ts:3 there is no study "smal".*Did you mean "small"/],
    [
      "an outer variable changed in a callback",
      `let n = 0;\nstudy("small").runs.map((run) => { n += 1; return run.id; });`,
      /main\.ts:3 "n" stands outside this callback/,
    ],
    ["a check without a limit", `emit.check("c", q("1 s"), {});`, /main\.ts:2 emit\.check needs a limit/],
    [
      "a baseline that is not there",
      `emit.table("t", study("small").runs.rows((r) => ({ fan: r.params.fan })).compareTo({ fn: 50 }));`,
      /"fn"/,
    ],
  ])("%s", async (_, body, message) => {
    const r = await runScript(s, body, { asUsers: true });
    expect(r.exit).toBe(1);
    expect(r.errors.join("\n")).toMatch(message);
  });
});
