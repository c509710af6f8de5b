import { emitWord } from "./emit-word.js";

export const pictureWord = emitWord({
  name: "picture",
  doc: "A picture of fields, as PNG unless said otherwise; of frames `apng` is one file that moves, `seconds` how long each stays.",
  examples: [
    'emit.picture("hall", picture.panels(walls.surface(at.patch("floor"), { color: "heat_flux" }), { camera: "isometric" }))',
  ],
  signature:
    '(name: string, picture: Picture, options?: { formats?: ("png" | "apng" | "pdf")[]; seconds?: number }): void',
  takes: "picture",
});
