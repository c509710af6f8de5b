import fs from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { describe, expect, it } from "@jest/globals";

/**
 * Words that were replaced by the field's own: none of them comes back, in the interface, in messages, in the library's
 * doc comments or in the documents.
 */
const root = fileURLToPath(new URL("../../../", import.meta.url));
const replaced: readonly (readonly [RegExp, string])[] = [
  [/\breckon/, "compute"],
  [/\b[Rr]ecipes?\b/, "lazy table, lazy value"],
  [/[Ll]aid upon each other/, "Align"],
  [/\bLaid over\b/, "Reference data"],
  [/\bShown by\b/, "Display"],
  [/only those that the rules accept/, "Accepted runs only"],
  [/one more run|no other run/, "add run, none"],
  [/\bThreads of a job\b/, "Worker threads"],
  [/one a core/, "one per core"],
  [/\bLarge arrays of a job\b/, "Array memory limit"],
  [/\bTime of a script itself\b/, "Script time limit"],
  [/\bResults kept between jobs\b(?!\. The)/, "Cache size"],
  [/keep apart for all eyes/, "colour-blind safe"],
  [/"runs through"/, "runs completed"],
  [/everything else is exact/, "other results are not affected"],
  [/\bsame within\b|\bor a share of\b/, "absolute tolerance, relative tolerance"],
  [/drawn from other numbers|told otherwise/, "data differ; same value, other formatting"],
  [/, to be (?:below|above|within)/, "limit: < 25 min"],
  [/\bnot in yet\b/, "pending"],
  [/Page as the system is/, "Use system theme"],
  [/\bThen and now\b/, "Compare jobs"],
  [/="(?:Double|Forget)\b|>\s*(?:Double|Forget)\b/, "Duplicate, Remove from list"],
  [/\bruns? (?:is|are|was|were) left out\b|\bruns? left out\b/, "excluded runs"],
  [/\bis no number\b/, "is not a number"],
  [/(?<!\b[Tt]here )\b(?:is|are) no (?!longer\b|wider\b|more\b)/, "is not a"],
  [/\bis in no (?:run|file|table|study)\b/, "is not found in any run"],
  [
    /\b(?:row|column|number|file|sheet|byte|line|cell|value|definition|one|term) a (?:run|place|verb|kind|column|file|thread|station|time|step|row|point|cell|script|worker|process|piece|block|job)\b(?! of)/,
    "one row per point, one thread per core",
  ],
  [/\bwork(?:s|ed|ing)? out\b/, "compute"],
  [/\bhang(?:s|ing)? together\b|\b(?:its|their) like\b/, "are correlated; such as"],
  [/\bhangs? on\b(?! values)/, "depends on"],
  [/\bheld against\b|\blaid over\b|\bcarried out\b|\bworked off\b/, "compared with, drawn over, executed, processed"],
  [/\bcycleMean\b|\bchart\.both\b|\bchart\.errors\b/, "phaseAverage, linePoints, errorBars"],
];
/** Where old names stand because they are told their new ones. */
const tellsOldNames = /renamed(?:\.test)?\.ts$|check\.test\.ts$|wording\.test\.ts$|CHANGELOG\.md$/;

function* texts(folder: string): Generator<string> {
  for (const e of fs.readdirSync(folder, { withFileTypes: true })) {
    const full = path.join(folder, e.name);
    if (e.isDirectory()) {
      if (!["node_modules", "dist", "bundle", "build-types", "test-build", "corpus", "data"].includes(e.name))
        yield* texts(full);
    } else if (/\.(?:tsx?|md)$/.test(e.name) && !tellsOldNames.test(e.name)) yield full;
  }
}

describe("comments", () => {
  it("are no wider than code is", () => {
    const wide = [...texts(path.join(root, "packages")), ...texts(path.join(root, "e2e"))]
      .filter((f) => /\.tsx?$/.test(f) && !f.endsWith(".d.ts"))
      .flatMap((f) => {
        const lines = fs.readFileSync(f, "utf8").split("\n");
        return lines.flatMap((line, k) =>
          line.length > 120 && /^\s*(?:\/\/|\/?\*)/.test(line) ? [`${path.relative(root, f)}:${k + 1}`] : [],
        );
      });
    expect(wide).toEqual([]);
  });
});

describe("wording", () => {
  it.each(["packages", "docs", "demo/scripts", "demo/src", "e2e"])("of %s is the field's own", (folder) => {
    const found: string[] = [];
    for (const file of texts(path.join(root, folder))) {
      const lines = fs.readFileSync(file, "utf8").split("\n");
      lines.forEach((line, k) => {
        for (const [old, now] of replaced)
          if (old.test(line)) found.push(`${path.relative(root, file)}:${k + 1} ${old.exec(line)![0]} (write: ${now})`);
      });
    }
    expect(found).toEqual([]);
  });
});
