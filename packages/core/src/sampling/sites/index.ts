/**
 * Sites: where fields are sampled. Each kind is a file: what describes it, the places or pieces of cells that it is
 * made of, and how it is shown. Adding one takes its file and its line here.
 *
 * In: meshes and fields (`../field-set`). Out: places and pieces for sampling, reductions and pictures. How scripts
 * write sites is the engine's (`verbs/sites`), how they are drawn by hand the survey's.
 */
import { z } from "zod";
import type { FieldAtTime } from "../columns.js";
import type { Part } from "../part.js";
import type { Places } from "../places.js";
import { all } from "./all.js";
import { column } from "./column.js";
import { grid } from "./grid.js";
import { iso } from "./iso.js";
import { line } from "./line.js";
import { cells, nodes } from "./numbered.js";
import { patch } from "./patch.js";
import { path } from "./path.js";
import { plane } from "./plane.js";
import { points } from "./points.js";
import type { SiteKind } from "./site-kind.js";
import { stations } from "./stations.js";

const kinds = [points, line, path, grid, plane, patch, all, column, stations, nodes, cells, iso] as const;

/** Where to sample, as scripts and the survey describe it; `block` restricts it to blocks by name or pattern. */
export type Site = z.infer<(typeof kinds)[number]["schema"]>;
type AnyKind = SiteKind<Site>;

const byKind: ReadonlyMap<string, AnyKind> = new Map(kinds.map((k) => [k.kind, k as unknown as AnyKind]));

/** The kind of a site. @throws Error for one that is not known */
export function kindOf(site: { readonly kind: string }): AnyKind {
  const found = byKind.get(site.kind);
  if (!found) throw new Error(`there is no site of kind "${site.kind}"; there is ${[...byKind.keys()].join(", ")}`);
  return found;
}

/** What describes a site, of whichever kind. */
export const siteSchema = z.discriminatedUnion(
  "kind",
  kinds.map((k) => k.schema) as unknown as [z.ZodObject<{ kind: z.ZodLiteral }>],
) as unknown as z.ZodType<Site>;

/** The places of a site that is made of places; undefined for all others. */
export const placesOf = (site: Site): Places | undefined => kindOf(site).places?.(site);

/**
 * The pieces that a plane, patch, volume, iso-surface or the planes of stations are made of.
 * @param notes takes what was decided
 */
export function piecesOf(f: FieldAtTime, site: Site, notes = new Set<string>()): Part[] {
  const { parts } = kindOf(site);
  if (!parts) throw new Error(`a ${site.kind} is not made of pieces`);
  return parts(f, site, notes);
}

/** What the column that tells a site's stations apart is called; undefined for sites without stations. */
export const stationColumn = (site: Site): string | undefined => kindOf(site).stations?.(site).axis;

export type { LineAt, SiteKind } from "./site-kind.js";
export type { Column } from "./column.js";
