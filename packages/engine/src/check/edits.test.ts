import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { additionChanges, changed, emittedExpression } from "./edits.js";
import { compileScript } from "./index.js";

const added = (text: string, lines: string): string => changed(text, additionChanges(text, lines));
const lines = `import { study, at, emit } from "oxtrum";

// gate in fields/hall, as surveyed.
const gate = at.line([0, 0, 0], [1, 0, 0], 11);
const values = study("hall").runs.map((run) => run.field("fields/hall").sample(gate, ["T"]));
emit.table("gate", values);
`;

describe("lines added to a script", () => {
  it("go to its end, with what they need imported once", () => {
    expect(added('import { study } from "oxtrum";\n\nconst s = study("a");\n\n\n', lines)).toBe(
      `import { study, at, emit } from "oxtrum";

const s = study("a");

// gate in fields/hall, as surveyed.
const gate = at.line([0, 0, 0], [1, 0, 0], 11);
const values = study("hall").runs.map((run) => run.field("fields/hall").sample(gate, ["T"]));
emit.table("gate", values);
`,
    );
  });

  it("are the whole of an empty script, and go under what has no import yet", () => {
    expect(added("", lines)).toBe(
      `import { study, at, emit } from "oxtrum";\n${lines.slice(lines.indexOf("// gate"))}`,
    );
    expect(added("// mine\n", 'import { q } from "oxtrum";\nq("1 m");')).toBe(
      'import { q } from "oxtrum";\n// mine\n\nq("1 m");\n',
    );
  });

  it("take other names where the script has theirs, wherever it has them", () => {
    const script = `import { study as folder, emit } from "oxtrum";
const at = 3;
for (const gate of [1, 2]) emit.value("x" + gate, folder("a").runs.count + at);
const plain = { values: 2, note: "const gate2 = 1" };
emit.table("gate", folder("a").runs.map((run) => run.table("values.csv")));
`;
    const out = added(script, lines);
    expect(out).toContain('import { study as folder, emit, at as at2 } from "oxtrum";');
    expect(out).toContain("const gate2 = at2.line([0, 0, 0], [1, 0, 0], 11);");
    // The name of a property is nobody's.
    expect(out).toContain(
      'const values = folder("hall").runs.map((run) => run.field("fields/hall").sample(gate2, ["T"]));',
    );
    expect(out).toContain('emit.table("gate 2", values);');
    expect(out).toContain(script.slice(script.indexOf("const at")));
  });

  it("give an import another name than any that the lines have themselves", () => {
    const out = added("const at = 3;\n", 'import { at } from "oxtrum";\nconst at2 = at.point([0, 0, 0]);\n');
    expect(out).toContain('import { at as at3 } from "oxtrum";');
    expect(out).toContain("const at2 = at3.point([0, 0, 0]);");
  });

  it("rename what is written short, and nothing in texts and comments", () => {
    const out = added(
      'import { q } from "oxtrum";\nconst peak = q("1 m");\n',
      'import { q, calc } from "oxtrum";\nconst peak = q("2 m"); // peak\nconst other = calc("2 * peak", { peak });\n',
    );
    expect(out).toContain('const peak2 = q("2 m"); // peak\nconst other = calc("2 * peak", { peak: peak2 });');
  });

  it("leave imports of types, of siblings and in comments alone", () => {
    const script = `// import { nothing } from "oxtrum"
import type { Table } from "oxtrum";
import { rooms } from "./rooms";
const t: Table | undefined = rooms(undefined);
`;
    const out = added(script, 'import { q } from "oxtrum";\nconst a = q("1 m");\n');
    expect(out).toContain('import type { Table } from "oxtrum";\n');
    expect(out).toContain('import { q } from "oxtrum";\n// import { nothing }');
  });

  it("take expressions of the script for names, which no name of their own hides", () => {
    const script = 'import { study, emit } from "oxtrum";\nconst results = study("a").runs.rows(() => ({ k: 1 }));\n';
    const block = `import { emit } from "oxtrum";
{
  const results = made;
  emit.table("ranking", results.rank("k"), { digits: 3 });
}
`;
    const out = changed(script, additionChanges(script, block, { made: "results.head(2)" }));
    expect(out).toContain(
      '{\n  const results2 = results.head(2);\n  emit.table("ranking", results2.rank("k"), { digits: 3 });\n}',
    );
    // Where nothing is hidden nothing is renamed.
    expect(changed(script, additionChanges(script, block, { made: "other" }))).toContain("const results = other;");
  });

  it("end as lines of the script do, and use what it imports in several places, or whole", () => {
    const windows = 'import { study } from "oxtrum";\r\nimport { emit } from "oxtrum";\r\nconst s = study("a");\r\n';
    const out = added(windows, lines);
    expect(out.replaceAll("\r\n", "")).not.toMatch(/[\r\n]/);
    expect(out).toContain('import { study, at } from "oxtrum";\r\nimport { emit } from "oxtrum";');
    const whole = added(
      'import * as ox from "oxtrum";\nox.emit.value("n", 1);\n',
      'import { q } from "oxtrum";\nq("1 m");\n',
    );
    expect(compileScript({ "a.ts": whole }).diagnostics).toEqual([]);
    expect(whole).toContain('import { q } from "oxtrum";');
  });

  it("fit into a script whose own last line is not finished", () => {
    const out = added('import { study } from "oxtrum";\nconst a = study(', lines);
    expect(out).toContain('import { study, at, emit } from "oxtrum";\nconst a = study(\n\n// gate');
  });

  it("property: added any number of times, a sound script stays sound, and what it had stays as it was", () => {
    const word = fc.constantFrom("gate", "values", "gate2", "at", "emit", "study", "run", "T", "values2");
    fc.assert(
      fc.property(fc.array(word, { maxLength: 5 }), fc.integer({ min: 1, max: 4 }), (names, times) => {
        const own = [...new Set(names)].map((n, k) => `const ${n} = ${k};\nexport const x${k} = ${n} + 1;`).join("\n");
        let text = `${own}\n`;
        for (let k = 0; k < times; k++) text = added(text, lines);
        expect(compileScript({ "a.ts": text }).diagnostics).toEqual([]);
        expect(text).toContain(own);
        const outputs = [...text.matchAll(/\.table\(("gate[^"]*")/g)].map((m) => m[1]);
        expect(new Set(outputs).size).toBe(times);
        const declared = [...text.matchAll(/^(?:const|export const) (\w+)/gm)].map((m) => m[1]);
        expect(new Set(declared).size).toBe(declared.length);
      }),
      { numRuns: 60 },
    );
  });
});

describe("what an output is given", () => {
  const script = `import { study, emit } from "oxtrum";
// emit.table("peaks", wrong);
const text = 'emit.table("peaks", wrong)';
emit.table("peaks", study("a").runs.rows((run) => ({ peak: run.table("x, y.csv").max("T") })), { unit: "K" });
for (const k of [1, 2]) emit.table("inner", study("a").runs.rows(() => ({ k })));
emit.chart("drawn", chart.lines(text));
`;
  it("is said as it is written", () => {
    expect(emittedExpression(script, "peaks")).toEqual({
      expression: 'study("a").runs.rows((run) => ({ peak: run.table("x, y.csv").max("T") }))',
    });
    expect(
      emittedExpression(
        script.replace("{ study, emit }", "{ study, emit as put }").replaceAll("emit.", "put."),
        "peaks",
      ),
    ).toMatchObject({
      expression: expect.stringContaining("study("),
    });
  });
  it("says why it cannot be said again", () => {
    expect(emittedExpression(script, "inner")).toMatchObject({ trouble: expect.stringContaining("inside a loop") });
    expect(emittedExpression(script, "drawn")).toMatchObject({ trouble: expect.stringContaining("makes up") });
    expect(emittedExpression("emit.table(", "a")).toMatchObject({ trouble: expect.any(String) });
  });
});
