import { createCanvas, loadImage } from "@napi-rs/canvas";
import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { packPng, pngChunks } from "./png.js";

/** The pixels that another program finds in a file. */
async function pixelsIn(file: Buffer): Promise<[width: number, height: number, pixels: number[]]> {
  const image = await loadImage(file);
  const canvas = createCanvas(image.width, image.height);
  canvas.getContext("2d").drawImage(image, 0, 0);
  const { data } = canvas.getContext("2d").getImageData(0, 0, image.width, image.height);
  return [image.width, image.height, Array.from(data)];
}

/** A picture of a few colours, some of it not there at all. */
const pictures = fc
  .tuple(fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 40 }))
  .chain(([width, height]) =>
    fc
      .array(fc.integer({ min: 0, max: 0xffffff }), { minLength: 1, maxLength: 12 })
      .chain((colors) =>
        fc
          .array(fc.integer({ min: 0, max: colors.length }), { minLength: width * height, maxLength: width * height })
          .map((of) => ({ width, height, pixels: of.map((k) => colors[k]) })),
      ),
  );

describe("packed pixels", () => {
  it("are what another program reads", async () => {
    await fc.assert(
      fc.asyncProperty(pictures, async ({ width, height, pixels }) => {
        const bytes = Uint8ClampedArray.from(
          pixels.flatMap((c) => (c === undefined ? [0, 0, 0, 0] : [c >> 16, (c >> 8) & 255, c & 255, 255])),
        );
        expect(await pixelsIn(await packPng(bytes, width, height))).toEqual([width, height, Array.from(bytes)]);
      }),
      { numRuns: 40 },
    );
  });
  it("are one stream of eight bits for each of red, green, blue and opacity", async () => {
    const chunks = pngChunks(await packPng(new Uint8ClampedArray(4 * 3 * 2), 3, 2));
    expect(chunks.map((c) => c.type)).toEqual(["IHDR", "IDAT", "IEND"]);
    expect([...chunks[0]!.data]).toEqual([0, 0, 0, 3, 0, 0, 0, 2, 8, 6, 0, 0, 0]);
  });
});
