export type Place = readonly [x: number, y: number, z: number];
export type Axis = "x" | "y" | "z";

/** Where to sample, as scripts and the survey describe it. */
export type Site =
  | { readonly kind: "points"; readonly places: readonly Place[]; readonly names?: readonly string[] | undefined }
  | { readonly kind: "line"; readonly from: Place; readonly to: Place; readonly count: number }
  | { readonly kind: "path"; readonly through: readonly Place[]; readonly count: number }
  | { readonly kind: "grid"; readonly origin: Place; readonly step: Place; readonly count: Place }
  | { readonly kind: "plane"; readonly point: Place; readonly normal: Place }
  /** Blocks by name or pattern; on a file of surfaces these are its patches. */
  | { readonly kind: "patch"; readonly match: string }
  | { readonly kind: "all" }
  /** Planes across an axis, evenly spaced. */
  | {
      readonly kind: "stations";
      readonly along: Axis;
      readonly from: number;
      readonly to: number;
      readonly count: number;
    };

/** Single places, in order, and how far each lies along the site. */
export interface Places {
  readonly xyz: Float64Array;
  /** Distance from the start, for lines and paths. */
  readonly distance?: Float64Array;
  readonly names?: readonly string[];
}

/** The places of a site that is made of places; undefined for planes, patches, volumes and stations. */
export function placesOf(site: Site): Places | undefined {
  switch (site.kind) {
    case "points":
      return { xyz: Float64Array.from(site.places.flat()), ...(site.names && { names: site.names }) };
    case "line":
      return along([site.from, site.to], site.count);
    case "path":
      return along(site.through, site.count);
    case "grid": {
      const [a, b, c] = site.count;
      if (a * b * c > 10_000_000) throw new Error(`a grid of ${a} × ${b} × ${c} places is more than ten million`);
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

/** Evenly spaced places along straight pieces; both ends are among them. */
function along(through: readonly (readonly [number, number, number])[], n: number): Places {
  const lengths = [0];
  for (let k = 1; k < through.length; k++) {
    const [a, b] = [through[k - 1]!, through[k]!];
    lengths.push(lengths[k - 1]! + Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]));
  }
  const total = lengths[lengths.length - 1]!;
  if (!(total > 0)) throw new Error("a line needs two places that differ");
  const xyz = new Float64Array(3 * n);
  const distance = new Float64Array(n);
  let k = 1;
  for (let i = 0; i < n; i++) {
    const s = i === n - 1 ? total : (total * i) / (n - 1);
    while (k < lengths.length - 1 && s > lengths[k]!) k++;
    const t = (s - lengths[k - 1]!) / (lengths[k]! - lengths[k - 1]!);
    for (let d = 0; d < 3; d++) xyz[3 * i + d] = (1 - t) * through[k - 1]![d]! + t * through[k]![d]!;
    distance[i] = s;
  }
  return { xyz, distance };
}

/** Places of stations: where each plane stands on its axis. */
export function stationsOf(site: Extract<Site, { kind: "stations" }>): number[] {
  const n = site.count;
  return Array.from({ length: n }, (_, i) => (n === 1 ? site.from : site.from + ((site.to - site.from) * i) / (n - 1)));
}

/** The axis that a line's values run over when none is named: its own distance. */
export const directions: Readonly<Record<Axis, readonly [number, number, number]>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] }; // prettier-ignore
