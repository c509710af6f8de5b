import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { startCheckProcess } from "./ask-check.js";
import { checkedScript, isKnownScript } from "./kept-checks.js";
import { compileScript } from "./strip.js";

let folder: string;
beforeEach(() => void (folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-checks-"))));
afterEach(() => fs.rmSync(folder, { recursive: true, force: true }));

const script = `import { q } from "oxtrum";\nexport const a: number = q("1 m").value;\n`;
const kept = (): string[] => fs.readdirSync(folder).sort();

describe("what was checked once", () => {
  it("is taken from the folder, with all that was said of it; other texts and studies are checked anew", async () => {
    const first = await checkedScript({ "main.ts": script }, {}, folder);
    const again = await checkedScript({ "main.ts": script }, {}, folder);
    expect(again).toEqual(first);
    expect(kept()).toHaveLength(1);
    const wrong = { "main.ts": script.replace("q(", "p(") };
    const failed = await checkedScript(wrong, {}, folder);
    expect(failed.modules).toBeUndefined();
    expect(failed.diagnostics[0]!.message).toMatch(/p/);
    expect(await checkedScript(wrong, {}, folder)).toEqual(failed);
    await checkedScript({ "main.ts": script }, { s: "export {};" }, folder);
    await checkedScript({ "main.ts": script, "more.ts": "export {};" }, {}, folder);
    expect(kept()).toHaveLength(4);
  });
  it("is known by its texts, whatever the studies, so that nobody gets ready to check it again", async () => {
    const files = { "main.ts": script };
    expect(isKnownScript(files, path.join(folder, "not there"))).toBe(false);
    expect(isKnownScript(files, folder)).toBe(false);
    const ready = startCheckProcess(files, folder, true);
    expect(ready).toBeDefined();
    ready!.stop();
    await checkedScript(files, { s: "export {};" }, folder);
    expect(isKnownScript(files, folder)).toBe(true);
    expect([startCheckProcess(files, folder, true), startCheckProcess({ "main.ts": "" }, folder, false)]).toEqual([
      undefined,
      undefined,
    ]);
    const others: Readonly<Record<string, string>>[] = [
      { "main.ts": `${script}\n` },
      { "other.ts": script },
      { ...files, "more.ts": "" },
    ];
    for (const other of others) expect(isKnownScript(other, folder)).toBe(false);
    expect(isKnownScript(files, undefined)).toBe(false);
  });
  it("counts for nothing where the file is damaged, of something else, or cannot be written", async () => {
    const good = await checkedScript({ "main.ts": script }, {}, folder);
    const file = path.join(folder, kept()[0]!);
    const text = fs.readFileSync(file, "utf8");
    for (const bad of ["", text.slice(0, -20), text.replace(/"key":"./, '"key":"x'), '{"key":1}', "null"]) {
      fs.writeFileSync(file, bad);
      expect(await checkedScript({ "main.ts": script }, {}, folder)).toEqual(good);
    }
    expect(await checkedScript({ "main.ts": script }, {}, undefined)).toEqual(good);
  });
  it("is forgotten when there is too much of it, and nothing else in the folder is", async () => {
    for (let i = 0; i < 305; i++) fs.writeFileSync(path.join(folder, `${String(i).padStart(32, "0")}.json`), "{}");
    fs.writeFileSync(path.join(folder, "notes.txt"), "mine");
    await checkedScript({ "main.ts": script }, {}, folder);
    expect(kept()).toHaveLength(301);
    expect(kept()).toContain("notes.txt");
  });
});

describe("a script made ready to run", () => {
  it.each([
    `const größe: "groß" | "klein" = "groß" as "groß";\nfoo<number>(größe!, 1);`,
    `import { type A, b } from "./x";\ninterface 界 { a: string }\ntype T<X> = X[];\nexport const f = <T,>(x: T): T => x;`,
    `class C<T> { private readonly a: number = 1; b?: string; c!: T; static d(this: void): void {} }`,
    `const s = \`\${(x as string)}\` satisfies string; // 😀 as ever\nconst y = s;`,
  ])("keeps every line and column: %s", (text) => {
    const { modules, diagnostics } = compileScript({ "main.ts": text });
    expect(diagnostics).toEqual([]);
    const code = modules!["main.ts"]!;
    expect(code.split("\n").map((l) => l.length)).toEqual(text.split("\n").map((l) => l.length));
    // What is left stands where it stood.
    for (const word of ["foo", "größe", "f =", "class C", "const y", "const s"])
      if (text.includes(word)) expect(code.indexOf(word)).toBe(text.indexOf(word));
  });
  it("is refused where it holds what is not only types", () => {
    const { modules, diagnostics } = compileScript({ "main.ts": "enum E { a }\n" });
    expect(modules).toBeUndefined();
    expect(diagnostics[0]!.message).toMatch(/enum/);
  });
});
