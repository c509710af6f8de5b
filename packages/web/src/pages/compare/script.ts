import type { StudySummary } from "@oxtrum/contract";
import { siteCode } from "../survey/sites";
import { chosenOf, type Comparison, type CurveNumber } from "./state";

/** A study with the runs that are compared. */
export interface Ground {
  readonly study: StudySummary;
  /** Of an output: the job's script, and what its output is called there. */
  readonly script?: { readonly text: string; readonly expression: string; readonly rows: boolean } | undefined;
}

/** Stands in the lines for what the output is called in the job's script. */
export const EMITTED = "emitted";

const text = (v: string): string => JSON.stringify(v);
const identifier = /^[A-Za-z_$][\w$]*$/;
const member = (name: string): string => (identifier.test(name) ? `.${name}` : `[${text(name)}]`);
const property = (name: string): string => (identifier.test(name) ? name : text(name));
/** A column in a formula. */
const inFormula = (name: string): string => (/^[A-Za-z_]\w*(\.\w+)*$/.test(name) ? name : `col(${text(name)})`);

/** More single lines than one can tell apart: they thin out, the band carries. */
export const MANY = 60;

/** The column that is compared, by the name that it has in the tables. */
export function columnOf(c: Comparison): string {
  const s = c.source!;
  if (s.kind === "site") return isReduced(c) ? "mean" : s.quantity;
  return s.column;
}

/** Planes and patches give one number per time: their history is compared. */
const isReduced = (c: Comparison): boolean =>
  c.source?.kind === "site" && (c.source.site.kind === "plane" || c.source.site.kind === "patch");

/** Along what the curves run, where that is known before they are read. */
export function axisOf(c: Comparison, study: StudySummary): string | undefined {
  const s = c.source!;
  if (s.kind === "column") return study.files.find((f) => f.file === s.file)?.axis ?? undefined;
  if (s.kind === "site")
    return isReduced(c) ? (study.fields.find((f) => f.file === s.file)?.axis ?? "time") : "distance";
  return undefined;
}

function condition(c: Comparison, study: StudySummary): string {
  const parts = study.parameters.flatMap((p) => {
    const list = chosenOf(c, p.name);
    if (list.length === 0) return [];
    const values = list.map((v) => (p.type === "number" ? String(Number(v)) : text(v)));
    return [`${property(p.name)}: ${values.length === 1 ? values[0]! : `[${values.join(", ")}]`}`];
  });
  return parts.length === 0 ? "" : `.where({ ${parts.join(", ")} })`;
}

/** The runs that are compared, in a script's words. */
const runsCode = (c: Comparison, study: StudySummary): string =>
  `study(${text(study.name)}).runs${condition(c, study)}${c.accepted ? ".accepted" : ""}`;

/** What each run gives. */
function curveCode(c: Comparison): string {
  const s = c.source!;
  const y = text(columnOf(c));
  let of = "";
  if (s.kind === "column") of = `run.table(${text(s.file)})`;
  else if (s.kind === "site")
    of = isReduced(c)
      ? `run.field(${text(s.file)}).history(${siteCode(s.site)}, { mean: { mean: ${text(s.quantity)} } })`
      : `run.field(${text(s.file)})${s.time}.sample(${siteCode(s.site)}, [${text(s.quantity)}])`;
  return `${of}${c.unit === "" ? "" : `.to(${y}, ${text(c.unit)})`}`;
}

function aligned(c: Comparison, axis: string | undefined): string {
  if (!c.align || c.align.at === "baseline") return "";
  const y = text(columnOf(c));
  const { at, level } = c.align;
  if (at === "max" || at === "min") return `\n  .map((t) => t.since(t.${at}(${y}).at))`;
  const bound = Number.isFinite(Number(level)) && level.trim() !== "" ? level.trim() : text(level);
  return `\n  .map((t) => t.since(t.crossings(${y}, ${bound}, { direction: ${text(at)} }).first(${text(axis ?? "time")})))`;
}

/** The name of a run's number in the table of results. */
export const resultName = (c: Comparison): string =>
  c.source!.kind === "output" ? columnOf(c) : `${columnOf(c)} ${c.number}`;

const numberCode: Readonly<Record<CurveNumber, (y: string) => string>> = {
  max: (y) => `t.max(${y})`,
  min: (y) => `t.min(${y})`,
  mean: (y) => `t.mean(${y})`,
  first: (y) => `t.first(${y})`,
  last: (y) => `t.last(${y})`,
  std: (y) => `t.std(${y})`,
  integral: (y) => `t.integral(${y})`,
  "position of max": (y) => `t.max(${y}).at`,
  "position of min": (y) => `t.min(${y}).at`,
};

interface Parts {
  /** Lines that everything needs. */
  readonly head: readonly string[];
  /** The lines of the view. */
  readonly lines: readonly string[];
  readonly names: readonly string[];
}

/** Titles of outputs: what, and how it is shown. */
const outputName = (c: Comparison, what: string): string => `${columnOf(c)} ${what}`;

/** Each run moved to where it agrees best with the baseline. */
const moved = (c: Comparison): string => `.map((t) => t.shiftAxis(model.timeShift(${text(columnOf(c))}, t).times(-1)))`;

function curves(c: Comparison, g: Ground): string[] {
  if (g.script && !g.script.rows) return [`const compared = ${EMITTED}${aligned(c, undefined)};`];
  const runs = `const runs = ${runsCode(c, g.study)};`;
  if (c.align?.at === "baseline")
    return [
      runs,
      `const own = runs.map((run) => ${curveCode(c)});`,
      `const model = own.get(${text(c.base)});`,
      `const compared = own${moved(c)};`,
    ];
  return [runs, `const compared = runs.map((run) => ${curveCode(c)})${aligned(c, axisOf(c, g.study))};`];
}

function results(c: Comparison, g: Ground): string[] {
  if (g.script?.rows) return [`const results = ${EMITTED};`];
  const params = g.study.parameters.map((p) => `${property(p.name)}: run.params${member(p.name)}`);
  const value = `${text(resultName(c))}: ${numberCode[c.number](text(columnOf(c)))}`;
  return [...curves(c, g), `const results = compared.rows((t, run) => ({ ${[...params, value].join(", ")} }));`];
}

/** More runs than this cannot be told apart by a colour each. */
const OWN_COLOURS = 8;

/**
 * What colours the curves: the parameter that was chosen; else each run has its own colour while these can be told
 * apart, and beyond that the parameter with the most values that still can.
 */
function colorOption(c: Comparison, study: StudySummary, runs: number): string {
  if (c.color !== "") return `color: ${text(c.color)}`;
  if (runs <= OWN_COLOURS) return "";
  const values = (name: string): number => {
    const chosen = chosenOf(c, name);
    const all = new Set(study.runs.flatMap((r) => (r.params[name] === undefined ? [] : [String(r.params[name])])));
    return chosen.length === 0 ? all.size : chosen.length;
  };
  const fitting = study.parameters
    .map((p) => ({ name: p.name, n: values(p.name) }))
    .filter((p) => p.n > 1 && p.n <= OWN_COLOURS);
  const best = fitting.sort((a, b) => b.n - a.n)[0];
  return best === undefined ? "" : `color: ${text(best.name)}`;
}

function overlay(c: Comparison, g: Ground, runs: number): Parts {
  const x = axisOf(c, g.study);
  const y = text(columnOf(c));
  const o = [x === undefined ? "" : `x: ${text(x)}`, `y: ${y}`, colorOption(c, g.study, runs)].filter((p) => p !== "");
  const many = runs > MANY;
  const lines = `chart.lines(compared, { ${[...o, ...(many ? ["faint: true"] : [])].join(", ")} })`;
  const layers = [lines];
  if (many)
    layers.push(
      `chart.band(across(compared, { ${x === undefined ? "" : `on: ${text(x)}, `}columns: [${y}] }), { y: ${y}, show: ["mean"] })`,
    );
  if (c.reference) {
    const { file, column, shift } = c.reference;
    const moved = shift.trim() === "" ? "" : `.shiftAxis(${text(shift)})`;
    layers.push(
      `chart.points(study(${text(g.study.name)}).table(${text(file)})${moved}, { ` +
        `${x === undefined ? "" : `x: ${text(x)}, `}y: ${text(column)}, name: ` +
        `${text(`${column} measured`)} })`,
    );
  }
  const drawn = layers.length === 1 ? layers[0]! : `chart.layers([\n  ${layers.join(",\n  ")},\n])`;
  return {
    head: curves(c, g),
    lines: [`emit.chart(${text(outputName(c, "by run"))}, ${drawn});`],
    names: ["chart", ...(many ? ["across"] : [])],
  };
}

function multiples(c: Comparison, g: Ground, runs: number): Parts {
  const x = axisOf(c, g.study);
  const p = g.study.parameters.find((q) => q.name === c.parameter) ?? g.study.parameters[0]!;
  const chosen = chosenOf(c, p.name);
  const levels = [...new Set(g.study.runs.flatMap((r) => (r.params[p.name] === undefined ? [] : [r.params[p.name]!])))]
    .filter((v) => chosen.length === 0 || chosen.includes(String(v)))
    .sort((a, b) => (a < b ? -1 : 1));
  const list = levels.map((v) => (p.type === "number" ? String(v) : text(String(v)))).join(", ");
  const level =
    identifier.test(p.name) && !["runs", "run", "compare", "study", "chart", "emit"].includes(p.name)
      ? p.name
      : "level";
  const where = level === p.name ? `{ ${level} }` : `{ ${property(p.name)}: ${level} }`;
  const o = [x === undefined ? "" : `x: ${text(x)}`, `y: ${text(columnOf(c))}`, colorOption(c, g.study, runs)].filter(
    (q) => q !== "",
  );
  return {
    head: [
      `const runs = ${runsCode(c, g.study)};`,
      ...(c.align?.at === "baseline" ? [`const model = runs.map((run) => ${curveCode(c)}).get(${text(c.base)});`] : []),
      `const compare = (some: typeof runs) => some.map((run) => ${curveCode(c)})${c.align?.at === "baseline" ? moved(c) : aligned(c, x)};`,
    ],
    lines: [
      `for (const ${level} of [${list}]) {`,
      `  const title = \`${outputName(c, "").replaceAll("`", "'")}at ${p.name.replaceAll("`", "'")} \${${level}}\`;`,
      `  emit.chart(title, chart.lines(compare(runs.where(${where})), { ${o.join(", ")}, title }));`,
      `}`,
    ],
    names: ["chart"],
  };
}

function band(c: Comparison, g: Ground): Parts {
  const x = axisOf(c, g.study);
  const y = text(columnOf(c));
  const on = x === undefined ? "" : `on: ${text(x)}, `;
  const lines = [x === undefined ? "" : `x: ${text(x)}`, `y: ${y}`, "faint: true"].filter((p) => p !== "").join(", ");
  return {
    head: [
      ...curves(c, g),
      `const band = across(compared, { ${on}columns: [${y}], percentiles: [5, 95], governing: true });`,
    ],
    lines: [
      `emit.chart(${text(outputName(c, "band"))}, chart.layers([`,
      `  chart.lines(compared, { ${lines} }),`,
      `  chart.band(band, { y: ${y}, show: ["mean", "p5", "p95"] }),`,
      `]));`,
      `emit.table(${text(outputName(c, "band numbers"))}, band);`,
    ],
    names: ["across", "chart"],
  };
}

/** The unit that a column has in most runs: differences need the same on both sides. */
function usualUnit(c: Comparison, study: StudySummary): string {
  const s = c.source!;
  if (c.unit !== "" || s.kind !== "column") return c.unit;
  const unit = study.files.find((f) => f.file === s.file)?.columns?.find((h) => h.name === s.column)?.unit ?? "";
  return unit === "1" ? "" : unit;
}

function difference(given: Comparison, g: Ground, runs: number): Parts {
  const c = { ...given, unit: usualUnit(given, g.study) };
  const x = axisOf(c, g.study);
  const y = columnOf(c);
  const [a, b] = [inFormula(y), inFormula(`${y}.base`)];
  const formula = c.percent ? `${text(`(${a} - ${b}) / abs(${b})`)}, { unit: "%" }` : text(`${a} - ${b}`);
  const o = [x === undefined ? "" : `x: ${text(x)}`, `y: "difference"`, colorOption(c, g.study, runs)].filter(
    (p) => p !== "",
  );
  return {
    head: [
      ...curves(c, g),
      `const base = compared.get(${text(c.base)});`,
      `const differences = compared.map((t) => t.join(base, { suffix: ".base" }).derive("difference", ${formula}));`,
    ],
    lines: [
      `emit.chart(${text(outputName(c, `against ${c.base}`))}, chart.lines(differences, { ${o.join(", ")} }));`,
      `emit.table(${text(outputName(c, `differences from ${c.base}`))}, differences.rows((t) => ({ ` +
        `max: t.max("difference"), min: t.min("difference"), mean: t.mean("difference") })));`,
    ],
    names: ["chart"],
  };
}

function parameter(c: Comparison, g: Ground): Parts {
  const y = text(resultName(c));
  const x = text(c.parameter);
  const title = text(`${resultName(c)} by ${c.parameter}`);
  const points = `chart.points(results, { x: ${x}, y: ${y}, name: "runs" })`;
  const rows = `emit.table(${text(`${resultName(c)} of each run`)}, results);`;
  if (c.law === "none")
    return { head: results(c, g), lines: [`emit.chart(${title}, ${points});`, rows], names: ["chart"] };
  return {
    head: [...results(c, g), `const law = fit.${c.law}(results, { y: ${y}, x: ${x} });`],
    lines: [
      `emit.chart(${title}, chart.layers([`,
      `  ${points},`,
      `  chart.lines(law.curve(), { x: ${x}, y: ${text(`${resultName(c)}.fit`)}, name: "${c.law} fit" }),`,
      `]));`,
      `emit.table(${text(`${resultName(c)} ${c.law} fit`)}, law);`,
      rows,
    ],
    names: ["chart", "fit"],
  };
}

/** Parameters that differ among the runs, so that something can be said of their effect. */
const varied = (c: Comparison, study: StudySummary): string[] =>
  study.parameters
    .filter((p) => new Set(study.runs.map((r) => r.params[p.name])).size > 1 && chosenOf(c, p.name).length !== 1)
    .map((p) => p.name);

function correlation(c: Comparison, g: Ground): Parts {
  const y = text(resultName(c));
  const list = varied(c, g.study).map(text).join(", ");
  const named = g.study.parameters
    .filter((p) => p.type === "number" && varied(c, g.study).includes(p.name))
    .map((p) => text(p.name));
  const own = g.script?.rows ? "" : [...named, y].join(", ");
  return {
    head: results(c, g),
    lines: [
      `emit.table(${text(`${resultName(c)} correlations`)}, results.correlations(${own}));`,
      ...(list === "" || g.script?.rows
        ? []
        : [`emit.table(${text(`${resultName(c)} effects`)}, results.effects(${y}, [${list}]));`]),
    ],
    names: [],
  };
}

function ranking(c: Comparison, g: Ground): Parts {
  const y = text(resultName(c));
  return {
    head: results(c, g),
    lines: [`emit.table(${text(`${resultName(c)} ranking`)}, results.rank(${y}).outliers(${y}));`],
    names: [],
  };
}

function partsOf(c: Comparison, g: Ground, runs: number): Parts {
  switch (c.view) {
    case "overlay":
      return overlay(c, g, runs);
    case "multiples":
      return multiples(c, g, runs);
    case "band":
      return band(c, g);
    case "difference":
      return difference(c, g, runs);
    case "parameter":
      return parameter(c, g);
    case "correlation":
      return correlation(c, g);
    case "ranking":
      return ranking(c, g);
  }
}

/**
 * The script of a comparison: what the page runs to show it, and what Put in script writes. Of a job's output these are
 * the lines that go below the job's own script, in a block of their own so that no name meets one of the script's.
 */
export function comparisonScript(c: Comparison, g: Ground, runs: number): string {
  const p = partsOf(c, g, runs);
  const at = c.source!.kind === "site" ? ["at"] : [];
  if (g.script) {
    const body = [...p.head, ...p.lines]
      .flatMap((l) => l.split("\n"))
      .map((l) => `  ${l}`)
      .join("\n");
    const head = `import { ${[...p.names, "emit"].join(", ")} } from "oxtrum";\n\n`;
    return `${head}// ${resultName(c)} of "${(c.source as { output: string }).output}", compared.\n{\n${body}\n}\n`;
  }
  const imports = ["study", ...at, ...p.names, "emit"];
  const what = c.source!.kind === "site" ? `${c.source!.quantity} at ${c.source!.site.name}` : columnOf(c);
  return (
    `// ${what} of the runs of ${g.study.name}, compared.\nimport { ${imports.join(", ")} } from ` +
    `"oxtrum";\n\n${[...p.head, "", ...p.lines].join("\n")}\n`
  );
}
