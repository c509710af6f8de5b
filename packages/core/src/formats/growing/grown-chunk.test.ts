import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { bufferSource } from "../source.js";
import { readChunk, type Chunk } from "../text-table/body.js";
import { detectDialect } from "../text-table/dialect.js";
import { GrownChunk } from "./grown-chunk.js";

const head = "time [s],T [K],word\n";
const dialect = detectDialect(bufferSource("t.csv", Buffer.from(`${head}0,1,a\n1,2,b\n`)));
const all = dialect.columns.map(() => true);
const chunkOf = (text: string): Chunk => readChunk(Buffer.from(text), dialect, all, true);

const line = fc.oneof(
  { weight: 6, arbitrary: fc.tuple(fc.nat(500), fc.nat(99)).map(([t, v]) => `${t},${v},w${v}\n`) },
  fc.constantFrom("\n", "# note\n", head, "5,*****,x\n", "1,2\n", "solution diverged\n"),
);
const part = fc.array(line, { maxLength: 9 }).map((l) => l.join(""));

describe("chunks that go on", () => {
  it("are the chunk of the whole text, and leave what was given out as it was", () => {
    fc.assert(
      fc.property(fc.array(part, { minLength: 1, maxLength: 12 }), (parts) => {
        const grown = new GrownChunk(chunkOf(parts[0]!));
        const given: [Chunk, Chunk][] = [];
        parts.forEach((p, k) => {
          if (k > 0) grown.append(chunkOf(p));
          given.push([grown.chunk, structuredClone(grown.chunk)]);
        });
        const { lastLine: _, ...whole } = chunkOf(parts.join(""));
        expect(grown.chunk).toMatchObject(whole);
        for (const [then, copy] of given) expect(then).toEqual(copy);
      }),
    );
  });
  it("take no more memory at first than their rows do", () => {
    const grown = new GrownChunk(chunkOf(`0,1,a\n${"# a long comment\n".repeat(500)}1,2,b\n`));
    const values = grown.chunk.columns[0] as Float64Array;
    expect([[...values], values.buffer.byteLength, grown.held]).toEqual([[0, 1], 16, 32]);
  });
  it("cost what is new of them: memory doubles, and is not copied with every row", () => {
    const grown = new GrownChunk(chunkOf("0,1,a\n"));
    const rooms = new Set<ArrayBufferLike>();
    for (let i = 1; i < 5000; i++) {
      grown.append(chunkOf(`${i},${i},b\n`));
      rooms.add((grown.chunk.columns[0] as Float64Array).buffer);
    }
    expect(rooms.size).toBeLessThanOrEqual(14);
    expect(grown.held).toBeLessThanOrEqual(2 * 2 * 8 * 5000);
  });
});
