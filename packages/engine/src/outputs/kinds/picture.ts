import { defaultPictureSize, pictureToAnimation, pictureToPdf, pictureToPng, type Block } from "@oxtrum/core/exports";
import type { PictureDescription } from "@oxtrum/core/pictures";
import type { FileNames } from "../naming.js";
import { dotted, drawnSize } from "../output-size.js";

import { packValue } from "../../store/serialize.js";
import { sha256 } from "../../store/keys.js";
import { drawNow, type Draw } from "../kept-drawings.js";
import { fewNotes, outputKind, type Content, type Options } from "./output-kind.js";

const formats = ["png", "apng", "pdf"];
/** Dots of all frames together that are held at once. */
const MOST_MOVING = 200e6;

/** The files of a picture: of a sequence one numbered PNG a frame, or all in one that moves. */
async function pictureFiles(
  name: string,
  picture: PictureDescription,
  options: Options,
  names: FileNames,
  draw: Draw = drawNow,
): Promise<Content[]> {
  const size = dotted(drawnSize(options, defaultPictureSize));
  const base = names.path(name);
  const seconds = (options["seconds"] as number | undefined) ?? 0.5;
  if (!(seconds >= 0.02 && seconds <= 60))
    throw new Error(`seconds ${String(seconds)}: a frame stays between 0.02 and 60 seconds`);
  const out: Content[] = [];
  const drawn = new Map<number, Buffer>();
  const frame = async (k: number): Promise<Buffer> => {
    const known = drawn.get(k) ?? (await pictureToPng(picture, size, k));
    drawn.set(k, known);
    return known;
  };
  for (const f of (options["formats"] as string[] | undefined) ?? ["png"]) {
    if (!formats.includes(f)) throw new Error(`format "${f}": use ${formats.join(", ")}`);
    if (f === "pdf")
      out.push({ file: `${base}.pdf`, content: await draw("pdf", size, () => pictureToPdf(picture, size)) });
    else if (f === "apng") {
      const dots = picture.panels.length * size.width * size.height * (size.scale ?? 1) ** 2;
      if (dots > MOST_MOVING)
        throw new Error(
          `apng: ${picture.panels.length} frames of this size have ${Math.round(dots / 1e6)} million dots; ` +
            `${MOST_MOVING / 1e6} are the most: use fewer frames, a smaller size or resolution`,
        );
      if (!picture.frames) throw new Error('format "apng" is for picture.frames: a picture of panels does not move');
      out.push({ file: `${base}.anim.png`, content: await pictureToAnimation(picture, size, seconds, frame) });
    } else if (picture.frames)
      for (const [k, { title }] of picture.panels.entries())
        out.push({
          file: `${names.path(name, { frame: k + 1, title })}.png`,
          content: await draw(`png ${k}`, size, () => frame(k)),
        });
    else out.push({ file: `${base}.png`, content: await draw("png", size, () => pictureToPng(picture, size)) });
  }
  return out;
}

const picked = (count: number, most: number): number[] =>
  count <= most
    ? Array.from({ length: count }, (_, k) => k)
    : Array.from({ length: most }, (_, k) => Math.round((k * (count - 1)) / (most - 1)));

/** A picture of fields: one, or a sequence. */
export const picture = outputKind("picture", {
  kind: "picture",
  files: ({ name, value, options, draw }, names) => pictureFiles(name, value.picture, options, names, draw),
  told: ({ value }) => ({ notes: fewNotes(value.notes ?? []) }),
  digest: ({ value }) => sha256(packValue(value.picture)),
  view: async ({ picture: drawn }) => ({ png: await pictureToPng(drawn) }),
  inReport: "outputs",
  blocks: async ({ value: { picture: drawn }, options, caption }) => {
    const size = { ...drawnSize(options, defaultPictureSize), scale: 1.5 };
    // Of a sequence as many as fit on a page: the first, the last, and some between.
    const frames = drawn.frames ? picked(drawn.panels.length, 6) : [undefined];
    const blocks: Block[] = [];
    for (const f of frames)
      blocks.push({
        kind: "picture",
        png: await pictureToPng(drawn, size, f),
        width: size.width,
        height: size.height,
        caption: f === undefined ? caption : `${caption} · ${f + 1} of ${drawn.panels.length}`,
      });
    return blocks;
  },
  compares: "drawing",
});
