import { z } from "zod";
import { blocksNamed } from "../field-set.js";
import { blockPieces } from "../pieces.js";
import { partsOf } from "./parts.js";
import { block, siteKind } from "./site-kind.js";

const schema = z.strictObject({ ...block, kind: z.literal("patch"), match: z.string() });

/** Blocks by name or pattern; on a file of surfaces these are its patches. */
export const patch = siteKind<z.infer<typeof schema>>({
  kind: "patch",
  schema,
  parts: (f, s) => partsOf(blocksNamed(f.blocks, s.match, f.file), blockPieces),
  blocks: (all, s, file) => blocksNamed(all, s.match, file),
  highestBlocks: false,
  hasFaces: true,
  staysOverTime: true,
  picture: {},
});
