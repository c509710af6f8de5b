import type { FieldAtTime } from "./columns.js";
import { ByteCache } from "./byte-cache.js";
import { blocksNamed, type Block } from "./field-set.js";
import { kindOf, type Site } from "./sites/index.js";

const dimensions = ["points", "lines", "surfaces", "volumes"];

/**
 * The field with only those of its blocks that a site samples: the `block` that the site names, or all; of these the
 * ones of the highest dimension, so that a volume and its boundary surfaces in one file are not mixed. A patch is
 * sampled as it is. Points and cells by number are those of the named or the first block.
 *
 * @returns the narrowed field, with notes of what it leaves aside and of what its files left out
 * @throws FormatError for a block that is not there
 */
export function blocksOfSite(f: FieldAtTime, site: Site, scattered = false): { field: FieldAtTime; notes: string[] } {
  const kind = kindOf(site);
  const named = site.block === undefined || kind.numbered ? f.blocks : blocksNamed(f.blocks, site.block, f.file);
  const own = kind.blocks?.(named, site, f.file) ?? named;
  const notes: string[] = [];
  let blocks = own;
  const highestOnly = !scattered && kind.highestBlocks;
  if (highestOnly && own.length > 1) {
    const of = own.map((b) => (b.grid.cells === 0 ? -1 : b.grid.dimension()));
    const highest = Math.max(...of);
    blocks = own.filter((_, k) => of[k] === highest);
    const lower = own.filter((_, k) => of[k]! >= 0 && of[k]! < highest);
    if (lower.length > 0) {
      const names = lower.map((b) => b.name).filter((n) => n !== "");
      const shown = names.length === 0 ? "" : `: ${names.slice(0, 5).join(", ")}${names.length > 5 ? " …" : ""}`;
      notes.push(
        `only the ${dimensions[highest]} of the file are sampled, not its ${lower.length} ` +
          `block${lower.length === 1 ? "" : "s"} of lower dimension${shown}; sample these with at.patch`,
      );
    }
  }
  if (highestOnly && kind.ofCells) for (const b of blocks) notes.push(...asideOf(b));
  const remarks = blocks.flatMap((b) => (b.grid.remarks ?? []).map((r) => (b.name === "" ? r : `${b.name}: ${r}`)));
  return { field: blocks === f.blocks ? f : { ...f, blocks }, notes: [...notes, ...new Set(remarks)] };
}

const asides = new ByteCache<readonly string[]>();

/**
 * A note of the cells of a block that are not sampled for their lower dimension; counted once for all runs on a mesh.
 */
function asideOf(b: Block): readonly string[] {
  if (b.grid.cells === 0) return [];
  const known = asides.get(b.digest);
  if (known) return known;
  const { dimension, lowerCells: n } = b.mesh;
  const made =
    n === 0
      ? []
      : [
          `${b.name === "" ? "" : `${b.name}: `}only the ${dimensions[dimension]} are sampled, not the ` +
            `${n} cell${n === 1 ? "" : "s"} of lower dimension beside them`,
        ];
  asides.set(b.digest, made, 200);
  return made;
}
