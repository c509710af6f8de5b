import { readdirSync, readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { isPlainScript } from "./plain-script.js";
import { stripTypes } from "./strip-types.js";

const swc = createRequire(import.meta.url)("@swc/wasm-typescript") as {
  transformSync(text: string, options: { mode: "strip-only" }): { code: string };
};
/** What taking types out gives, without asking first; undefined where it cannot. */
function taken(text: string): string | undefined {
  try {
    return swc.transformSync(text, { mode: "strip-only" }).code;
  } catch {
    return undefined;
  }
}

describe("scripts without types", () => {
  it("are as they stand, and the demo has some", () => {
    const folder = new URL("../../../../demo/scripts/", import.meta.url);
    const texts = readdirSync(folder)
      .filter((f) => f.endsWith(".ts"))
      .map((f) => readFileSync(new URL(f, folder), "utf8"));
    for (const text of texts) expect(stripTypes(text)).toBe(taken(text));
    expect(texts.filter(isPlainScript).length).toBeGreaterThan(texts.length / 3);
  });

  it.each([
    "const t: number = 1;",
    "const t = f<number>(1);",
    "const m = new Map<string, number>(list);",
    "const s = tag<A>`x`;",
    "const t = x as unknown as number;",
    "const t = x!;",
    "const f = <T,>(x: T) => x;",
    "type A = 1;",
    "type\nA = 1;",
    "interface\nA {}",
    "declare\nconst x: number;",
    "abstract\nclass A {}",
    'import { type Run, emit } from "oxtrum";',
    'import type { Run } from "oxtrum";',
    'import\n{ emit } from "oxtrum";',
    "export const a = 1;",
    "enum A { x }",
    "class A { private x = 1; }",
    "class A { constructor(readonly x) {} }",
    "function f(a?: number) {}",
    "function f(this: number) {}",
    "const t = (x satisfies number);",
    "let a = 1 <",
  ])("are not such as %s", (text) => expect(isPlainScript(text)).toBe(false));

  it.each([
    'import { study, emit } from "oxtrum";\nimport own from "./own.ts";\nimport * as more from \'./more.ts\';',
    "for (const a of [1, 2]) if (a < 2 && 3 > a) await f(a);",
    "const f = async (x) => ({ ...x, y: `${x.a} °C` });",
    "const type = 1, declare = type;\nemit.value('a', type);",
    "class A { #x = 1; get x() { return this.#x ?? 0; } }",
  ])("are such as %s", (text) => {
    expect(isPlainScript(text)).toBe(true);
    expect(taken(text)).toBe(text);
  });

  it.each(["<", "> ", "< > ", " ", "\n \t", "(", "import {", "type\n", "<\n"])(
    "are told from others in little time where a text is a million times %j",
    (word) => {
      const start = process.cpuUsage();
      isPlainScript(word.repeat(1_000_000 / word.length));
      expect(process.cpuUsage(start).user).toBeLessThan(5e6);
    },
  );

  it("are the same after their types were taken out, however words are put together", () => {
    const words = [
      ..."const let x y f A T = : number < > ( ) { } [ ] , ;".split(" "),
      ..."as type declare abstract class interface => ! ? ` 1 new . enum satisfies readonly".split(" "),
      ...'function return import from export async await is in "a"'.split(" "),
      "\n",
    ];
    const text = fc.array(fc.constantFrom(...words), { maxLength: 14 }).map((list) => list.join(" "));
    let plain = 0;
    fc.assert(
      fc.property(text, (t) => {
        if (!isPlainScript(t)) return;
        const stripped = taken(t);
        // What cannot be read at all is said by the check, and by the interpreter.
        if (stripped === undefined) return;
        plain++;
        expect(stripped).toBe(t);
      }),
      { numRuns: 20_000 },
    );
    expect(plain).toBeGreaterThan(200);
  });
});
