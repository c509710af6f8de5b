export type Triple = readonly [number, number, number];
export type Axis = "x" | "y" | "z";

/** A site as the survey holds it: what a script writes with `at`. */
export type SurveySite = { readonly name: string } & (
  | { readonly kind: "line"; readonly from: Triple; readonly to: Triple; readonly count: number }
  | { readonly kind: "plane"; readonly axis: Axis; readonly at: number }
  | { readonly kind: "points"; readonly place: Triple }
  | { readonly kind: "grid"; readonly origin: Triple; readonly step: Triple; readonly count: Triple }
  | { readonly kind: "column"; readonly x: number; readonly y: number; readonly count: number }
  | { readonly kind: "patch"; readonly match: string }
);
export type SiteKind = SurveySite["kind"];

/** What a kind of site is called. */
export const kindWord: Readonly<Record<SiteKind, string>> = {
  line: "line",
  plane: "plane",
  points: "point",
  grid: "grid",
  column: "column",
  patch: "patch",
};

const normals: Readonly<Record<Axis, Triple>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** The site as the server samples it. */
export function wireSite(s: SurveySite): { kind: string } & Record<string, unknown> {
  switch (s.kind) {
    case "line":
      return { kind: "line", from: s.from, to: s.to, count: s.count };
    case "points":
      return { kind: "points", places: [s.place] };
    case "grid":
      return { kind: "grid", origin: s.origin, step: s.step, count: s.count };
    case "column":
      return { kind: "column", place: [s.x, s.y], along: "z", count: s.count };
    case "patch":
      return { kind: "patch", match: s.match };
    case "plane":
      return { kind: "plane", point: normals[s.axis].map((n) => n * s.at), normal: normals[s.axis] };
  }
}

/** Whether its values lie along a line, one after the other. */
export const isLine = (s: SurveySite): boolean => s.kind === "line" || s.kind === "column";

/** A site of a script as one that can be changed here, where it is of such a kind. */
export function fromWire(name: string, w: { readonly kind: string } & Record<string, unknown>): SurveySite | undefined {
  if (w.kind === "line")
    return { ...(w as unknown as { from: Triple; to: Triple; count: number }), name, kind: "line" };
  if (w.kind === "patch") return { name, kind: "patch", match: w["match"] as string };
  if (w.kind === "grid")
    return { ...(w as unknown as { origin: Triple; step: Triple; count: Triple }), name, kind: "grid" };
  if (w.kind === "points" && (w["places"] as Triple[]).length === 1)
    return { name, kind: "points", place: (w["places"] as Triple[])[0]! };
  if (w.kind === "column" && w["along"] === "z" && w["from"] === undefined) {
    const [x, y] = w["place"] as [number, number];
    return { name, kind: "column", x, y, count: w["count"] as number };
  }
  if (w.kind === "plane" && w["bounds"] === undefined) {
    const [normal, point] = [w["normal"] as Triple, w["point"] as Triple];
    const k = normal.findIndex((n) => n !== 0);
    if (normal.filter((n) => n !== 0).length === 1)
      return { name, kind: "plane", axis: "xyz"[k] as Axis, at: point[k]! };
  }
  return undefined;
}

const list = (t: readonly number[]): string => `[${t.join(", ")}]`;

/** The site in a script's words. */
export function siteCode(s: SurveySite): string {
  switch (s.kind) {
    case "line":
      return `at.line(${list(s.from)}, ${list(s.to)}, { count: ${s.count} })`;
    case "points":
      return `at.point(${list(s.place)})`;
    case "grid":
      return `at.grid({ origin: ${list(s.origin)}, step: ${list(s.step)}, count: ${list(s.count)} })`;
    case "column":
      return `at.column([${s.x}, ${s.y}], { count: ${s.count} })`;
    case "patch":
      return `at.patch(${JSON.stringify(s.match)})`;
    case "plane":
      return `at.plane({ ${s.axis}: ${s.at} })`;
  }
}

/** Where a site can be taken hold of; `axis` where it only moves along one. */
export interface Handle {
  readonly part: "from" | "to" | "whole" | "plane";
  readonly place: Triple;
  readonly axis?: number;
}

/** The handles of a site in a domain. */
export function handlesOf(s: SurveySite, b: readonly number[]): Handle[] {
  const middle = (k: number): number => (b[2 * k]! + b[2 * k + 1]!) / 2;
  switch (s.kind) {
    case "line":
      return [
        { part: "from", place: s.from },
        { part: "to", place: s.to },
        { part: "whole", place: s.from.map((v, k) => (v + s.to[k]!) / 2) as unknown as Triple },
      ];
    case "points":
      return [{ part: "whole", place: s.place }];
    case "grid":
      return [{ part: "whole", place: s.origin }];
    case "column":
      return [{ part: "whole", place: [s.x, s.y, middle(2)] }];
    case "plane": {
      const k = "xyz".indexOf(s.axis);
      return [
        { part: "plane", axis: k, place: [0, 1, 2].map((d) => (d === k ? s.at : middle(d))) as unknown as Triple },
      ];
    }
    case "patch":
      return [];
  }
}

/** The site after one of its handles was moved to a place. */
export function moved(s: SurveySite, h: Handle, to: Triple): SurveySite {
  const by = to.map((v, k) => v - h.place[k]!) as unknown as Triple;
  const plus = (p: Triple): Triple => p.map((v, k) => clean(v + by[k]!)) as unknown as Triple;
  switch (s.kind) {
    case "line":
      return h.part === "whole" ? { ...s, from: plus(s.from), to: plus(s.to) } : { ...s, [h.part]: to };
    case "points":
      return { ...s, place: to };
    case "grid":
      return { ...s, origin: to };
    case "column":
      return { ...s, x: to[0], y: to[1] };
    case "plane":
      return { ...s, at: to[h.axis!]! };
    case "patch":
      return s;
  }
}

/** A number without the dust that sums leave behind. */
const clean = (v: number): number => Number(v.toPrecision(12));

const round = (x: number): number => Number(x.toPrecision(3));

/** A new site of a kind, in the middle of a domain. */
export function newSite(kind: SiteKind, name: string, b: readonly number[], patches: readonly string[]): SurveySite {
  const mid = (k: number): number => round((b[2 * k]! + b[2 * k + 1]!) / 2);
  const inset = (k: number, share: number): number => round(b[2 * k]! + share * (b[2 * k + 1]! - b[2 * k]!));
  const step = (k: number): number => round((b[2 * k + 1]! - b[2 * k]!) / 4);
  const wide = [0, 1, 2].filter((k) => b[2 * k + 1]! > b[2 * k]!);
  // Lines stand upright where the domain has a height, else across its shorter side.
  const up = wide.includes(2) ? 2 : (wide[wide.length - 1] ?? 0);
  const place: Triple = [mid(0), mid(1), mid(2)];
  switch (kind) {
    case "line":
      return {
        kind,
        name,
        from: place.map((v, k) => (k === up ? inset(k, 0.01) : v)) as unknown as Triple,
        to: place.map((v, k) => (k === up ? inset(k, 0.99) : v)) as unknown as Triple,
        count: 100,
      };
    case "plane": {
      const k = wide.includes(1) && wide.length === 3 ? 1 : (wide[0] ?? 0);
      return { kind, name, axis: "xyz"[k] as Axis, at: mid(k) };
    }
    case "points":
      return { kind, name, place };
    case "grid":
      return {
        kind,
        name,
        origin: [inset(0, 0.25), inset(1, 0.25), inset(2, 0.25)],
        step: [step(0), step(1), step(2)],
        count: [0, 1, 2].map((k) => (wide.includes(k) ? 3 : 1)) as unknown as Triple,
      };
    case "column":
      return { kind, name, x: mid(0), y: mid(1), count: 100 };
    case "patch":
      return { kind, name, match: patches[0] ?? "*" };
  }
}

/** A line, a plane and a place for a start; on surfaces a patch. */
export function firstSites(b: readonly number[], dimension: number, patches: readonly string[]): SurveySite[] {
  if (dimension === 2 && patches.length > 1)
    return [newSite("patch", patches[0]!, b, patches), newSite("points", "middle", b, patches)];
  if (dimension === 0) return [newSite("line", "across", b, patches), newSite("points", "middle", b, patches)];
  const solid = dimension === 3;
  return [
    newSite("line", solid ? "rake" : "across", b, patches),
    newSite("plane", solid ? "aisle" : "section", b, patches),
    newSite("points", "middle", b, patches),
  ];
}

/** A step that places snap to: a round share of the domain's size in that direction. */
const grain = (size: number): number => (size > 0 ? 10 ** Math.floor(Math.log10(size / 100)) : 1);

/** A place within bounds (xmin, xmax, ymin, …), on round numbers. */
export const snapped = (p: Triple, b: readonly number[]): Triple =>
  p.map((v, k) => {
    const step = grain(b[2 * k + 1]! - b[2 * k]!);
    const inside = Math.min(b[2 * k + 1]!, Math.max(b[2 * k]!, v));
    const round = Number((Math.round(inside / step) * step).toPrecision(12));
    return round < b[2 * k]! || round > b[2 * k + 1]! ? inside : round;
  }) as unknown as Triple;
