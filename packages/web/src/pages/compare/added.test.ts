import { describe, expect, it } from "@jest/globals";
import type { Preview } from "@oxtrum/contract";
import { ofAddedLines, outputCalled } from "./added";

const output = (name: string, line: number, file = "a.ts"): Preview["outputs"][number] => ({
  name,
  line,
  file,
  kind: "chart",
  files: [],
  runs: 1,
  left: [],
  notes: [],
});
const look = (...outputs: Preview["outputs"]): Preview => ({
  outputs,
  diagnostics: [],
  messages: [],
  overtaken: false,
});

describe("what added lines put out", () => {
  const own = 'import { emit } from "oxtrum";\n\nemit.text("own", "a");';
  const insert = '\n\nconst b = 1;\nemit.text("new", "b");\n';
  const added = { text: own + insert, changes: [{ from: own.length, to: own.length + 1, insert }] };
  it("is what stands below the script, in its file", () => {
    const given = look(output("own", 3), output("part", 6, "part.ts"), output("new", 6));
    expect(ofAddedLines(given, added, "a.ts").outputs.map((o) => o.name)).toEqual(["new"]);
  });
  it("is found behind imports that are new as well", () => {
    const first = 'import { chart } from "oxtrum";\n';
    const text = first + added.text;
    const changes = [{ from: 0, to: 0, insert: first }, ...added.changes];
    const given = look(output("own", 4), output("new", 7));
    expect(ofAddedLines(given, { text, changes }, "a.ts").outputs.map((o) => o.name)).toEqual(["new"]);
  });
  it("is all where the script was empty", () => {
    const alone = {
      text: 'emit.text("new", "b");\n',
      changes: [{ from: 0, to: 0, insert: 'emit.text("new", "b");\n' }],
    };
    expect(ofAddedLines(look(output("new", 1)), alone, "a.ts").outputs).toHaveLength(1);
  });
  it("is called by what its name ends in, or with a number behind it", () => {
    const list = [output("peak 3", 1), output("peak of each run 2", 2), output("peak linear fit", 3)];
    expect(outputCalled(list, "of each run")?.line).toBe(2);
    expect(outputCalled(list, " fit")?.line).toBe(3);
    expect(outputCalled(list, "ranking")).toBeUndefined();
  });
});
