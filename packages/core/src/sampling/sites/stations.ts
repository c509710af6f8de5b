import { z } from "zod";
import { connectedTo } from "../connected.js";
import { somePieces } from "../integration.js";
import type { Part, Station } from "../part.js";
import { along, splineThrough } from "../paths.js";
import { planePieces } from "../pieces.js";
import type { Axis, Place } from "../places.js";
import { lineShape } from "./line.js";
import { partsOf } from "./parts.js";
import { pathShape } from "./path.js";
import { axis, block, bounds, count, siteKind } from "./site-kind.js";

const schema = z.strictObject({
  ...block,
  kind: z.literal("stations"),
  along: z.union([axis, z.strictObject(pathShape)]),
  from: z.number(),
  to: z.number(),
  count: count.max(100_000),
  /** Bounds of the planes. */
  bounds: bounds.optional(),
  /** A line at each station instead of a plane: it is moved so that its middle lies there. */
  line: z.strictObject(lineShape).optional(),
});
type Stations = z.infer<typeof schema>;

const directions: Readonly<Record<Axis, Place>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };
const triple = (v: Float64Array, i: number): Place => [v[3 * i]!, v[3 * i + 1]!, v[3 * i + 2]!];

/** Stations, evenly spaced from `from` to `to` along their axis or path. */
function stationsOf(site: Stations): Station[] {
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

/** The ends of one station's line: the given one, moved so that its middle lies at it (of an axis: only along it). */
function endsOf(site: Stations, s: Station): [Place, Place] {
  const { from, to } = site.line!;
  const move = [0, 1, 2].map((d) =>
    typeof site.along === "string"
      ? site.along === "xyz"[d]
        ? s.at - (from[d]! + to[d]!) / 2
        : 0
      : s.point[d]! - (from[d]! + to[d]!) / 2,
  );
  const moved = (p: Place): Place => p.map((v, d) => v + move[d]!) as unknown as Place;
  return [moved(from), moved(to)];
}

/** Of a cut across a path only the part that the path goes through there. */
function ownPart(parts: readonly Part[], s: Station, notes: Set<string>): Part[] {
  const { own, parts: count } = connectedTo(
    parts.map((p) => p.pieces),
    s.point,
  );
  if (count < 2) return [...parts];
  notes.add("where a plane across the path cuts the mesh more than once, the part at the path is taken");
  return parts.map((p, k) =>
    own[k] === undefined
      ? p
      : { block: p.block, whole: false, station: p.station, pieces: somePieces(p.pieces, own[k]) },
  );
}

/** Planes, or lines, repeated along an axis or a path. */
export const stations = siteKind<Stations>({
  kind: "stations",
  schema,
  called: "station",
  lines: (site) =>
    site.line &&
    stationsOf(site).map((s) => {
      const [from, to] = endsOf(site, s);
      return { at: s.at, line: { kind: "line", from, to, count: site.line!.count } };
    }),
  parts: (f, site, notes) =>
    stationsOf(site).flatMap((s) => {
      const parts = partsOf(f.blocks, (b) => planePieces(b, s.point, s.normal, site.bounds), s);
      return typeof site.along === "string" ? parts : ownPart(parts, s, notes);
    }),
  stations: (site) => ({
    axis: typeof site.along === "string" ? site.along : "distance",
    at: stationsOf(site).map((s) => s.at),
  }),
  highestBlocks: true,
  ofCells: true,
  staysOverTime: false,
  picture: { rim: true },
  fewest: (s) => ({ ...s, count: Math.min(s.count, 2) }),
});
