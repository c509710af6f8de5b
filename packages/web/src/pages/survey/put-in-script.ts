import { isLine, siteCode, type SurveySite } from "./sites";

/** What a survey shows: the site, the field, the time and the quantity. */
export interface Shown {
  readonly study: string;
  readonly file: string;
  readonly site: SurveySite;
  /** When, in a script's words; empty where there is one state only. */
  readonly time: string;
  readonly quantity: string;
  /** A cloud of points: values are those of the nearest. */
  readonly cloud: boolean;
}

/** A name that a script can use for a variable. */
export function variable(name: string): string {
  const plain = name.replace(/[^\p{ID_Continue}$]+(.)?/gu, (_, c?: string) => (c ?? "").toUpperCase());
  return /^[\p{ID_Start}_$]/u.test(plain) && !reserved.has(plain) ? plain : `site${plain}`;
}
const reserved = new Set([
  "study",
  "at",
  "across",
  "chart",
  "picture",
  "emit",
  "fit",
  "input",
  "q",
  "runs",
  "values",
  "const",
  "let",
  "new",
  "in",
  "for",
  "if",
  "class",
  "default",
  "function",
  "return",
  "this",
  "import",
  "export",
  "delete",
  "switch",
  "case",
]);

/** When a field is looked at, in a script's words. */
export const timeCode = (step: number | null | undefined, axis: string): string =>
  step === null || step === undefined ? "" : `.at({ ${axis}: ${step} })`;

/** The lines that give what the survey shows, on all runs. */
function lines(o: Shown): string {
  const name = variable(o.site.name);
  const values = variable(`${o.site.name} values`);
  const q = JSON.stringify(o.quantity);
  const field = `study(${JSON.stringify(o.study)}).runs.map((run) => run.field(${JSON.stringify(o.file)})${o.time}`;
  const out = `// ${o.site.name} in ${o.file}, as surveyed.\nconst ${name} = ${siteCode(o.site)};\n`;
  const output = JSON.stringify(o.site.name);
  if (o.site.kind === "plane" || o.site.kind === "patch")
    return `${out}const ${values} = ${field}.reduce(${name}, {
  mean: { mean: ${q} }, min: { min: ${q} }, max: { max: ${q} },
}));
emit.table(${output}, ${values}.rows((t) => ({ mean: t.first("mean"), min: t.first("min"), max: t.first("max") })));
`;
  const sampled = `${out}const ${values} = ${field}.sample(${name}, [${q}]${o.cloud ? ', { method: "nearest" }' : ""}));
emit.table(${output}, ${values});
`;
  if (!isLine(o.site)) return sampled;
  const title = JSON.stringify(`${o.quantity} along ${o.site.name}`);
  return `${sampled}emit.chart(${title}, chart.lines(${values}, { x: "distance", y: ${q} }));\n`;
}

/** A whole script that gives what the survey shows. */
export const surveyScript = (o: Shown): string =>
  `import { study, at, ${isLine(o.site) ? "chart, " : ""}emit } from "oxtrum";\n\n${lines(o)}`;
