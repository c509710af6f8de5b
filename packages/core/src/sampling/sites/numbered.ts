import { z } from "zod";
import { block, ids, siteKind } from "./site-kind.js";

const nodeSchema = z.strictObject({ ...block, kind: z.literal("nodes"), ids });
const cellSchema = z.strictObject({ ...block, kind: z.literal("cells"), ids });

const shared = { highestBlocks: false, staysOverTime: true } as const;

/** Points of the mesh by their numbers in the file, counted from 0. */
export const nodes = siteKind<z.infer<typeof nodeSchema>>({
  ...shared,
  kind: "nodes",
  schema: nodeSchema,
  called: "set of nodes",
  numbered: "point",
  fewest: (s) => ({ ...s, ids: s.ids.slice(0, 1) }),
});

/** Cells by their numbers in the file, counted from 0. */
export const cells = siteKind<z.infer<typeof cellSchema>>({
  ...shared,
  kind: "cells",
  schema: cellSchema,
  called: "set of cells",
  numbered: "cell",
  fewest: (s) => ({ ...s, ids: s.ids.slice(0, 1) }),
});
