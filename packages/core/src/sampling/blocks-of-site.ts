import type { FieldAtTime } from "./columns.js";
import { blocksNamed } from "./field-set.js";
import type { Site } from "./sites.js";

const dimensions = ["points", "lines", "surfaces", "volumes"];

/**
 * The field with only those of its blocks that a site samples: the `block` that the site names, or all; of these the ones of
 * the highest dimension, so that a volume and its boundary surfaces in one file are not mixed. A patch is sampled as it is.
 * Points and cells by number are those of the named or the first block.
 *
 * @returns the narrowed field, with notes of what it leaves aside and of what its files left out
 * @throws FormatError for a block that is not there
 */
export function blocksOfSite(f: FieldAtTime, site: Site, scattered = false): { field: FieldAtTime; notes: string[] } {
  const named = site.block === undefined || site.kind === "nodes" || site.kind === "cells" ? f.blocks : blocksNamed(f.blocks, site.block, f.file); // prettier-ignore
  const own = site.kind === "patch" ? blocksNamed(named, site.match, f.file) : named;
  const notes: string[] = [];
  let blocks = own;
  if (!scattered && site.kind !== "patch" && site.kind !== "nodes" && site.kind !== "cells" && own.length > 1) {
    const of = own.map((b) => (b.grid.cells === 0 ? -1 : b.grid.dimension()));
    const highest = Math.max(...of);
    blocks = own.filter((_, k) => of[k] === highest);
    const lower = own.filter((_, k) => of[k]! >= 0 && of[k]! < highest);
    if (lower.length > 0) {
      const names = lower.map((b) => b.name).filter((n) => n !== "");
      const shown = names.length === 0 ? "" : `: ${names.slice(0, 5).join(", ")}${names.length > 5 ? " …" : ""}`;
      notes.push(`only the ${dimensions[highest]} of the file are sampled, not its ${lower.length} block${lower.length === 1 ? "" : "s"} of lower dimension${shown}; sample these with at.patch`); // prettier-ignore
    }
  }
  const remarks = blocks.flatMap((b) => (b.grid.remarks ?? []).map((r) => (b.name === "" ? r : `${b.name}: ${r}`)));
  return { field: blocks === f.blocks ? f : { ...f, blocks }, notes: [...notes, ...new Set(remarks)] };
}
