import { z } from "zod";
import type { FieldAtTime } from "../columns.js";
import type { Block } from "../field-set.js";
import type { Part } from "../part.js";
import type { Box, Place, Places } from "../places.js";

/** A kind of site: what of a mesh it is, how it is sampled, and how it is shown. */
export interface SiteKind<S extends { readonly kind: string }> {
  readonly kind: S["kind"];
  /** What describes one; strict, so that a misspelt option is refused. */
  readonly schema: z.ZodType<S>;
  /** What it is called where it misses the mesh. */
  readonly called?: string;

  /** The single places that it is made of. */
  places?(site: S): Places;
  /** The site that it is in a mesh with these bounds (low and high x, y, z), where that is another one. */
  settled?(site: S, bounds: readonly number[]): { readonly kind: string };
  /** Lines, one for each station; undefined for a site that is not made of lines. */
  lines?(site: S): readonly LineAt[] | undefined;
  /**
   * The pieces of cells that it is made of, block by block.
   * @param notes takes what was decided
   */
  parts?(f: FieldAtTime, site: S, notes: Set<string>): Part[];
  /** Points or cells by their numbers: which of the two. */
  readonly numbered?: "point" | "cell";

  /** The column that tells stations apart in rows and reductions, and where they stand. */
  stations?(site: S): { readonly axis: string; readonly at: readonly number[] };
  /** The blocks that it names itself. */
  blocks?(blocks: readonly Block[], site: S, file: string): Block[];
  /** Only blocks of the highest dimension, as against those that it names. */
  readonly highestBlocks: boolean;
  /** Made of cells: those of lower dimension that lie beside them are noted. */
  readonly ofCells?: true;
  /** Whose faces have a direction that files may list one way or the other. */
  readonly hasFaces?: true;

  /** Its rows have names that stay from one time to the next. */
  readonly staysOverTime: boolean;
  /** How it is shown in pictures; without it cannot be. */
  readonly picture?: { readonly rim?: true; readonly outline?: false; readonly skin?: true };
  /** How many places it has, where it is made of places. */
  count?(site: S): number;
  /** A site with no more places than show which columns there will be. */
  fewest?(site: S): S;
}

/** A line at its station. */
export interface LineAt {
  readonly at: number;
  readonly line: { readonly kind: "line"; readonly from: Place; readonly to: Place; readonly count: number };
}

/** Declares a kind of site. */
export const siteKind = <S extends { readonly kind: string }>(definition: SiteKind<S>): SiteKind<S> => definition;

/** The most places that one site may have. */
export const MOST_PLACES = 10_000_000;

const finite = z.number();
export const place: z.ZodType<Place> = z.tuple([finite, finite, finite], {
  error: "three numbers are needed, as in [12, 4, 0.1]",
});
const listOfPlaces = "a list of places is needed, as in [[12, 4, 1], [12, 4, 5]]";
export const places = (least = 1): z.ZodType<readonly Place[]> =>
  z.array(place, { error: listOfPlaces }).min(least, listOfPlaces);
export const axis = z.enum(["x", "y", "z"]);
export const count = z.number().int().min(1).max(MOST_PLACES);
export const range: z.ZodType<readonly [number, number]> = z.tuple([finite, finite], {
  error: "two numbers are needed, as in [12, 4]",
});
/** Bounds of planes, axis by axis; open where nothing is said. */
export const bounds = z
  .strictObject({ x: range.optional(), y: range.optional(), z: range.optional() })
  .transform((b) => Object.fromEntries(Object.entries(b).filter(([, v]) => v !== undefined)) as Box);
export const ids: z.ZodType<readonly number[]> = z.array(z.number().int().min(0)).min(1).max(MOST_PLACES);

/** An option of every site: blocks, by name or pattern, that it is restricted to. */
export const block = { block: z.string().optional() };
