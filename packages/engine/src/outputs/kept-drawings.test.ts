import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { runHere, smallStudy, type SmallStudy } from "../testing/index.js";
import { bundled } from "../bundled.js";
import { jobRequestSchema } from "../record/request.js";
import { KeptDrawings } from "./kept-drawings.js";

let folder: string;
beforeEach(() => void (folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-drawings-"))));
afterEach(() => fs.rmSync(folder, { recursive: true, force: true }));

const size = { width: 8, height: 5, scale: 2 };
let drawn = 0;
const draw = (text: string) => (): Buffer => {
  drawn++;
  return Buffer.from(text);
};
/** What comes out, and whether it had to be drawn for it. */
async function asked(kept: KeptDrawings, digest: string, format: string, of: object, text: string): Promise<string> {
  drawn = 0;
  const bytes = await kept.drawerOf(digest)(format, of, draw(text));
  return `${drawn === 0 ? "kept" : "drawn"} ${bytes.toString()}`;
}

describe("kept drawings", () => {
  it("are taken for just the same: contents, format, size and program", async () => {
    const kept = new KeptDrawings(folder, "one");
    expect(await asked(kept, "a", "png", size, "1")).toBe("drawn 1");
    expect(await asked(kept, "a", "png", { scale: 2, height: 5, width: 8 }, "2")).toBe("kept 1");
    expect(await asked(kept, "b", "png", size, "3")).toBe("drawn 3");
    expect(await asked(kept, "a", "svg", size, "4")).toBe("drawn 4");
    expect(await asked(kept, "a", "png", { ...size, width: 9 }, "5")).toBe("drawn 5");
    expect(await asked(new KeptDrawings(folder, "two"), "a", "png", size, "6")).toBe("drawn 6");
    expect(await asked(new KeptDrawings(folder, "one"), "a", "png", size, "7")).toBe("kept 1");
  });

  it("count for nothing where a file is damaged, cut off, empty or a link to something else", async () => {
    const kept = new KeptDrawings(folder, "one");
    await asked(kept, "a", "png", size, "good");
    const file = path.join(folder, fs.readdirSync(folder)[0]!);
    const whole = fs.readFileSync(file);
    const flipped = Buffer.from(whole);
    flipped[70 - 4]! ^= 1;
    for (const bad of [flipped, whole.subarray(0, -1), whole.subarray(0, 64), Buffer.alloc(0)]) {
      fs.writeFileSync(file, bad);
      expect(await asked(kept, "a", "png", size, "good")).toBe("drawn good");
    }
    fs.rmSync(file);
    fs.symlinkSync("/dev/zero", file);
    expect(await asked(kept, "a", "png", size, "good")).toBe("drawn good");
  });

  it("are drawn where they cannot be kept, and what was drawn longest ago goes first", async () => {
    fs.writeFileSync(path.join(folder, "file"), "");
    expect(await asked(new KeptDrawings(path.join(folder, "file", "below"), "one"), "a", "png", size, "1")).toBe(
      "drawn 1",
    );
    const kept = new KeptDrawings(folder, "one");
    for (let k = 0; k < 1003; k++) {
      const file = path.join(folder, String(k).padStart(64, "0"));
      fs.writeFileSync(file, "");
      fs.utimesSync(file, 1000 + k, 1000 + k);
    }
    kept.forget();
    const left = fs.readdirSync(folder).filter((f) => f !== "file");
    expect([left.length, left.sort()[0]]).toEqual([1000, String(3).padStart(64, "0")]);
    expect(fs.existsSync(path.join(folder, "file"))).toBe(true);
  });

  it("give the bytes that a job without them gives, also after a part of the script has changed", async () => {
    const s: SmallStudy = smallStudy();
    const text = (title: string): string => `import { study, chart, emit } from "oxtrum";
const hall = study("small").runs.map((run) => run.table("hall.csv"));
emit.chart("T", chart.lines(hall, { x: "time", y: "T" }), { formats: ["png", "svg", "pdf"] });
emit.chart("p", chart.lines(hall, { x: "time", y: "p", title: "${title}" }), { formats: ["png"], size: [300, 200] });
`;
    const files = async (script: string, out: string, cache: boolean): Promise<Record<string, string>> => {
      const request = jobRequestSchema.parse({
        files: { "a.ts": script },
        main: "a.ts",
        compiled: { "a.ts": script },
        studies: [{ name: "small", folder: s.folder }],
        dataFolder: s.data,
        outFolder: s.out(out),
        cache,
      });
      expect((await runHere(request, () => undefined)).exit).toBe(0);
      const names = fs.readdirSync(s.out(out)).filter((f) => /\.(?:png|svg|pdf)$/.test(f));
      return Object.fromEntries(names.sort().map((f) => [f, fs.readFileSync(path.join(s.out(out), f), "base64")]));
    };
    try {
      const first = await files(text("one"), "a", true);
      const changed = await files(text("two"), "b", true);
      expect(Object.keys(first)).toEqual(["T.pdf", "T.png", "T.svg", "p.png"]);
      expect(changed).toEqual(await files(text("two"), "c", false));
      expect(changed["T.png"]).toBe(first["T.png"]);
      expect(changed["p.png"]).not.toBe(first["p.png"]);
      // Four of the first job, one of the second; none where it is not known which program draws.
      const kept = path.join(s.data, "drawings");
      expect(fs.existsSync(kept) ? fs.readdirSync(kept).length : 0).toBe(bundled("process.cjs") ? 5 : 0);
    } finally {
      s.remove();
    }
  });
});
