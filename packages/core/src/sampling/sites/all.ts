import { z } from "zod";
import { blockPieces } from "../pieces.js";
import { partsOf } from "./parts.js";
import { block, siteKind } from "./site-kind.js";

const schema = z.strictObject({ ...block, kind: z.literal("all") });

/** All cells of the mesh. */
export const all = siteKind<z.infer<typeof schema>>({
  kind: "all",
  schema,
  parts: (f) => partsOf(f.blocks, blockPieces),
  highestBlocks: true,
  ofCells: true,
  hasFaces: true,
  staysOverTime: true,
  picture: { skin: true },
});
