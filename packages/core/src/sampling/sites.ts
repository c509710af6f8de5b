import { along, splineThrough } from "./paths.js";
import type { Axis, Box, Place, Places } from "./places.js";

export type { Axis, Box, Place, Places } from "./places.js";

/** Where to sample, as scripts and the survey describe it; `block` restricts it to blocks by name or pattern. */
export type Site = SiteShape & { readonly block?: string | undefined };

type SiteShape =
  | { readonly kind: "points"; readonly places: readonly Place[]; readonly names?: readonly string[] | undefined }
  | { readonly kind: "line"; readonly from: Place; readonly to: Place; readonly count: number }
  | Path
  | { readonly kind: "grid"; readonly origin: Place; readonly step: Place; readonly count: Place }
  | { readonly kind: "plane"; readonly point: Place; readonly normal: Place; readonly bounds?: Box | undefined }
  /** Blocks by name or pattern; on a file of surfaces these are its patches. */
  | { readonly kind: "patch"; readonly match: string }
  | { readonly kind: "all" }
  /** An upright line through the whole mesh, or from one height to another. */
  | Column
  | Stations
  /** Points or cells by their numbers in the file, counted from 0. */
  | { readonly kind: "nodes" | "cells"; readonly ids: readonly number[] }
  /** The surface on which a field has a value. */
  | { readonly kind: "iso"; readonly field: string; readonly value: number };

/** A site of one kind. */
export type SiteOf<K extends Site["kind"]> = Extract<SiteShape, { readonly kind: K }> & {
  readonly block?: string | undefined;
};

/** Points or cells by their numbers. */
export type NumberedSite = Extract<SiteShape, { readonly ids: readonly number[] }> & {
  readonly block?: string | undefined;
};

export interface Path {
  readonly kind: "path";
  readonly through: readonly Place[];
  readonly count: number;
  /** Rounded through the places instead of straight between them. */
  readonly spline?: boolean | undefined;
}

export interface Column {
  readonly kind: "column";
  /** Its two other coordinates, in the order of the axes. */
  readonly place: readonly [number, number];
  readonly along: Axis;
  readonly from?: number | undefined;
  readonly to?: number | undefined;
  readonly count: number;
}

/** Planes, or lines, repeated along an axis or a path. */
export interface Stations {
  readonly kind: "stations";
  readonly along: Axis | { readonly through: readonly Place[]; readonly spline?: boolean | undefined };
  readonly from: number;
  readonly to: number;
  readonly count: number;
  /** Bounds of the planes. */
  readonly bounds?: Box | undefined;
  /** A line at each station instead of a plane: it is moved so that its middle lies there. */
  readonly line?: { readonly from: Place; readonly to: Place; readonly count: number } | undefined;
}

/** The most places that one site may have. */
export const MOST_PLACES = 10_000_000;

/** The places of a site that is made of places; undefined for planes, patches, volumes and stations. */
export function placesOf(site: Site): Places | undefined {
  switch (site.kind) {
    case "points":
      return { xyz: Float64Array.from(site.places.flat()), ...(site.names && { names: site.names }) };
    case "line":
      return along([site.from, site.to], site.count);
    case "path":
      return along(site.spline ? splineThrough(site.through) : site.through, site.count);
    case "grid": {
      const [a, b, c] = site.count;
      if (a * b * c > MOST_PLACES) throw new Error(`a grid of ${a} × ${b} × ${c} places is more than ten million`);
      const xyz = new Float64Array(3 * a * b * c);
      let at = 0;
      for (let k = 0; k < c; k++)
        for (let j = 0; j < b; j++)
          for (let i = 0; i < a; i++)
            [i, j, k].forEach((n, d) => void (xyz[at++] = site.origin[d]! + n * site.step[d]!));
      return { xyz };
    }
    default:
      return undefined;
  }
}

/** A column as the line that it is, from the mesh's lower to its upper end where it says no heights. */
export function columnLine(site: Column, bounds: readonly number[]): SiteOf<"line"> {
  const k = "xyz".indexOf(site.along);
  const low = site.from ?? bounds[2 * k]!;
  let high = site.to ?? bounds[2 * k + 1]!;
  if (!(high > low)) high = low + 1;
  const end = (v: number): Place => {
    const [a, b] = site.place;
    return k === 0 ? [v, a, b] : k === 1 ? [a, v, b] : [a, b, v];
  };
  return { kind: "line", from: end(low), to: end(high), count: site.count };
}

/** Where a station stands: its place, the direction it looks, and what it is called by along its axis or path. */
export interface Station {
  readonly at: number;
  readonly point: Place;
  readonly normal: Place;
}

/** Places of stations, evenly spaced from `from` to `to` along their axis or path. */
export function stationsOf(site: Stations): Station[] {
  const n = site.count;
  const at = Array.from({ length: n }, (_, i) =>
    n === 1 ? site.from : site.from + ((site.to - site.from) * i) / (n - 1),
  );
  if (typeof site.along === "string") {
    const normal = directions[site.along];
    return at.map((v) => ({ at: v, point: normal.map((d) => d * v) as unknown as Place, normal }));
  }
  const { xyz, tangent } = along(site.along.spline ? splineThrough(site.along.through) : site.along.through, at);
  return at.map((v, i) => ({ at: v, point: triple(xyz, i), normal: triple(tangent!, i) }));
}

/** What the column of a table that tells stations apart is called. */
export const stationAxis = (site: Stations): string => (typeof site.along === "string" ? site.along : "distance");

/** The line of one station: the given one, moved so that its middle lies at the station (of an axis: only along it). */
export function stationLine(site: Stations, s: Station): SiteOf<"line"> {
  const { from, to, count } = site.line!;
  const move = [0, 1, 2].map((d) =>
    typeof site.along === "string"
      ? site.along === "xyz"[d]
        ? s.at - (from[d]! + to[d]!) / 2
        : 0
      : s.point[d]! - (from[d]! + to[d]!) / 2,
  );
  const moved = (p: Place): Place => p.map((v, d) => v + move[d]!) as unknown as Place;
  return { kind: "line", from: moved(from), to: moved(to), count };
}

const triple = (v: Float64Array, i: number): Place => [v[3 * i]!, v[3 * i + 1]!, v[3 * i + 2]!];

/** Unit vectors along the axes. */
export const directions: Readonly<Record<Axis, Place>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };
