import type { StudySummary } from "@oxtrum/contract";
import { quantityName, type ShownQuantity } from "./state";

const text = (v: string): string => JSON.stringify(v);

/** A name of a constant from words. */
const constant = (words: string, taken: Set<string>): string => {
  const stem = words.replace(/[^A-Za-z0-9]+(.)?/g, (_, c: string | undefined) => c?.toUpperCase() ?? "") || "values";
  const base = /^\d/.test(stem) ? `q${stem}` : stem[0]!.toLowerCase() + stem.slice(1);
  let name = base;
  for (let k = 2; taken.has(name); k++) name = `${base}${k}`;
  taken.add(name);
  return name;
};

/** What each run gives of a quantity. */
function read(q: ShownQuantity["quantity"]): string {
  if (q.kind === "table") return `run.table(${text(q.file)})`;
  if (q.kind === "field")
    return `run.field(${text(q.file)}).history(at.all(), { ${text(quantityName(q))}: { ${q.statistic}: ${text(q.field)} } })`;
  const { several, carry, count, increments } = q.options ?? {};
  const options = [
    ...(several ? [`several: ${text(several)}`] : []),
    ...(count ? [`count: ${JSON.stringify(count)}`] : []),
    ...(increments?.length ? [`increments: ${JSON.stringify(increments)}`] : []),
    ...(carry?.length ? [`carry: ${JSON.stringify(carry)}`] : []),
  ];
  const given = [...q.patterns.map(text), ...(options.length > 0 ? [`{ ${options.join(", ")} }`] : [])];
  return `run.lines(${text(q.file)}).read(${given.join(", ")})`;
}

/**
 * A script that draws what the Live page shows, of finished runs as of those that are being computed.
 *
 * @param runs the chosen runs; undefined for all of the study
 */
export function liveScript(
  study: StudySummary,
  runs: readonly string[] | undefined,
  shown: readonly ShownQuantity[],
): string {
  const taken = new Set(["runs", "study", "chart", "emit", "at", "run"]);
  const all = runs === undefined || runs.length === study.runs.length;
  const sources = new Map<string, string>();
  const lines: string[] = [];
  for (const s of shown) {
    const code = read(s.quantity);
    const name = quantityName(s.quantity);
    let source = sources.get(code);
    if (source === undefined) {
      source = constant(
        s.quantity.kind === "table" ? s.quantity.file.replace(/^.*\//, "").replace(/\.\w+$/, "") : name,
        taken,
      );
      sources.set(code, source);
      lines.push(`const ${source} = runs.map((run) => ${code});`);
    }
    const options = [
      `y: ${text(name)}`,
      ...(s.log ? [`yScale: "log"`] : []),
      ...(s.level === undefined ? [] : [`marks: [{ y: ${s.level}, text: "level" }]`]),
      `title: ${text(name)}`,
    ];
    lines.push(`emit.chart(${text(name)}, chart.lines(${source}, { ${options.join(", ")} }));`);
  }
  const words = ["study", ...(shown.some((s) => s.quantity.kind === "field") ? ["at"] : []), "chart", "emit"];
  const where = all ? "" : `.where({ id: ${JSON.stringify(runs)} })`;
  return [
    `import { ${words.join(", ")} } from "oxtrum";`,
    "",
    `const runs = study(${text(study.name)}).runs${where};`,
    "",
    ...lines,
    "",
  ].join("\n");
}
