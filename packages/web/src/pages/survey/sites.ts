/** A site as the survey holds it: what a script writes with `at`. */
export type SurveySite =
  | { readonly kind: "line"; readonly name: string; readonly from: Triple; readonly to: Triple; readonly count: number }
  | { readonly kind: "plane"; readonly name: string; readonly axis: Axis; readonly at: number }
  | { readonly kind: "points"; readonly name: string; readonly place: Triple };

export type Triple = readonly [number, number, number];
export type Axis = "x" | "y" | "z";
const normals: Readonly<Record<Axis, Triple>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** The site as the server samples it. */
export function wireSite(s: SurveySite): { kind: string } & Record<string, unknown> {
  if (s.kind === "line") return { kind: "line", from: s.from, to: s.to, count: s.count };
  if (s.kind === "points") return { kind: "points", places: [s.place] };
  return { kind: "plane", point: normals[s.axis].map((n) => n * s.at), normal: normals[s.axis] };
}

const list = (t: Triple): string => `[${t.join(", ")}]`;

/** The site in a script's words. */
export const siteCode = (s: SurveySite): string =>
  s.kind === "line"
    ? `at.line(${list(s.from)}, ${list(s.to)}, { count: ${s.count} })`
    : s.kind === "points"
      ? `at.point(${list(s.place)})`
      : `at.plane({ ${s.axis}: ${s.at} })`;

/** A name that a script can use for a variable. */
export const variable = (name: string): string => {
  const plain = name.replace(/[^\p{L}\p{N}_$]+(.)?/gu, (_, c?: string) => (c ?? "").toUpperCase());
  return /^[\p{L}_$]/u.test(plain) ? plain : `site${plain}`;
};

/** When a field is looked at, in a script's words. */
export const timeCode = (step: number | null | undefined, axis: string): string =>
  step === null || step === undefined ? "" : `.at({ ${axis}: ${step} })`;

/** A whole script that gives what the survey shows, on all runs. */
export function siteScript(o: {
  study: string;
  file: string;
  site: SurveySite;
  time: string;
  quantity: string;
}): string {
  const name = variable(o.site.name);
  const field = `run.field(${JSON.stringify(o.file)})${o.time}`;
  const head = `// ${o.site.name} in ${o.file}, as surveyed.
import { study, at, chart, emit } from "oxtrum";

const ${name} = ${siteCode(o.site)};
const runs = study(${JSON.stringify(o.study)}).runs;
`;
  const q = JSON.stringify(o.quantity);
  if (o.site.kind === "plane")
    return `${head}
const values = runs.map((run) => ${field}.reduce(${name}, {
  mean: { mean: ${q} }, least: { min: ${q} }, most: { max: ${q} },
}));
emit.table(${JSON.stringify(o.site.name)}, values.rows((t) => ({ mean: t.first("mean"), least: t.first("least"), most: t.first("most") })));
`;
  const sampled = `
const values = runs.map((run) => ${field}.sample(${name}, [${q}]));
emit.table(${JSON.stringify(o.site.name)}, values);
`;
  return o.site.kind === "points"
    ? head + sampled
    : `${head}${sampled}emit.chart(${JSON.stringify(`${o.quantity} along ${o.site.name}`)}, chart.lines(values, { x: "distance", y: ${q} }));
`;
}
