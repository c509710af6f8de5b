import { runNames } from "../../definition/run-ref.js";
import { markdownBlocks, plainOf, reportHtml, reportPdf, type Block, type Report } from "@oxtrum/core/exports";
import { displayUnit, formatNumber, nearestNames, own } from "@oxtrum/core/tables";
import { isRefused, reasonText, type ExcludedRun, type Outcome, type Value } from "../../verbs/values.js";
import type { OutputRecord } from "../../record/events.js";
import type { Manifest } from "../../record/manifest.js";
import { outputKindOf } from "../kinds/index.js";
import { reportOptionsSchema, type ReportOptions } from "./report-options.js";

/** An output as a report shows it. */
export interface ReportedOutput {
  readonly record: OutputRecord;
  readonly outcome: Outcome | undefined;
  readonly options: Readonly<Record<string, unknown>>;
}

/** The blocks of an output: its drawing or its rows, and a caption that says where it comes from. */
async function blocksOf(o: ReportedOutput): Promise<Block[]> {
  const { record: r, outcome, options } = o;
  if (r.failed !== undefined) return [{ kind: "quote", words: [{ text: `${r.name}: not made: ${r.failed}` }] }];
  const runs = r.runs > 0 ? ` · ${r.runs} ${r.runs === 1 ? "run" : "runs"}` : "";
  const caption = `${r.name}${runs}${r.left.length > 0 ? `, ${r.left.length} excluded` : ""} · ${r.file}:${r.line}`;
  const shown = { name: r.name, line: r.line, options, value: outcome as Value, record: r, caption };
  return outputKindOf(r.kind)!.blocks(shown);
}

const placeOf = (o: ReportedOutput): string => outputKindOf(o.record.kind)!.inReport;

/** Finds outputs by the names that notes give; refuses those that are not there. */
function finder(outputs: readonly ReportedOutput[]): (name: string) => ReportedOutput {
  const byName = new Map(outputs.map((o) => [o.record.name, o]));
  return (name) => {
    const found = byName.get(name.trim());
    if (found) return found;
    const near = nearestNames(name.trim(), [...byName.keys()]);
    throw new Error(
      `report: there is no output "${name.trim()}"${near.length > 0 ? `; did you mean ${near.map((n) => `"${n}"`).join(" or ")}` : ""}`,
    );
  };
}

/** The blocks of notes, with values filled in and outputs where they are named. */
async function notesOf(notes: string, find: (name: string) => ReportedOutput, shown: Set<string>): Promise<Block[]> {
  const blocks: Block[] = [];
  let text: string[] = [];
  const flush = (): void => {
    if (text.length > 0) blocks.push(...markdownBlocks(text.join("\n")));
    text = [];
  };
  for (const line of dedented(notes).split("\n")) {
    const own = /^\s*\{\{([^{}]+)\}\}\s*$/.exec(line);
    const output = own && find(own[1]!);
    if (output && placeOf(output) !== "values") {
      flush();
      shown.add(output.record.name);
      blocks.push(...(await blocksOf(output)));
      continue;
    }
    text.push(
      line.replace(/\{\{([^{}]+)\}\}/g, (_, name: string) => {
        const o = find(name);
        shown.add(o.record.name);
        return (o.record.failed === undefined ? (o.record.summary ?? o.record.name) : "–").replace(
          /([\\`*_[\]<>|])/g,
          "\\$1",
        );
      }),
    );
  }
  flush();
  return blocks;
}

/** Notes stand indented in a script: what all lines have in common before their words is taken off. */
function dedented(text: string): string {
  const lines = text.replace(/^\n/, "").split("\n");
  const least = Math.min(...lines.filter((l) => l.trim() !== "").map((l) => /^ */.exec(l)![0].length));
  return Number.isFinite(least) ? lines.map((l) => l.slice(least)).join("\n") : text;
}

const DEFAULT_COVER = "# {{title}}\n\n{{subtitle}}\n\n{{study}}\n\n{{runs}}\n\n{{script}}";

function coverOf(o: ReportOptions, title: string, outputs: readonly ReportedOutput[], m: Manifest): Block[] {
  const checks = outputs.filter((x) => placeOf(x) === "checks");
  const count = (v: string): number => checks.filter((c) => c.record.verdict === v).length;
  const runs = m.studies.reduce((n, s) => n + s.runs.length, 0);
  const fill: Record<string, string> = {
    title,
    subtitle: o.subtitle ?? "",
    study: `Study ${m.studies.map((s) => s.name).join(", ")}`,
    runs: `${runs} ${runs === 1 ? "run" : "runs"}, ${new Set(m.leftOut.map((l) => l.run)).size} excluded from some output`,
    script: `${m.script.main}, revision ${m.script.files[m.script.main]!.sha256.slice(0, 12)}`,
  };
  const text = dedented(o.cover ?? DEFAULT_COVER).replace(/\{\{(\w+)\}\}/g, (whole, k: string) =>
    Object.hasOwn(fill, k) ? fill[k]!.replace(/([\\`*_[\]<>|])/g, "\\$1") : whole,
  );
  const blocks = markdownBlocks(text).filter((b) => b.kind !== "paragraph" || plainOf(b.words).trim() !== "");
  if (checks.length > 0) {
    const verdict = count("failed") > 0 ? "failed" : count("undecided") > 0 ? "undecided" : "passed";
    blocks.push({
      kind: "verdict",
      verdict,
      text:
        `${checks.length} ${checks.length === 1 ? "check" : "checks"}: ${count("passed")} passed, ` +
        `${count("failed")} failed, ${count("undecided")} undecided`,
    });
  }
  return blocks;
}

function runsTable(m: Manifest, left: ReadonlyMap<string, readonly ExcludedRun[]>): Block[] {
  const name = runNames(new Map(m.studies.map((s) => [s.name, s.runs.map((r) => r.id)])));
  return m.studies.flatMap((s): Block[] => {
    const parameters = s.parameters as { name: string; unit: string | null; type: string }[];
    const head = [
      "run",
      ...parameters.map((p) => (displayUnit(p.unit) ? `${p.name} (${displayUnit(p.unit)})` : p.name)),
      "state",
    ];
    const shown = s.runs.slice(0, 400);
    const state = (id: string): string => {
      const why = left.get(name({ study: s.name, id }));
      return why === undefined ? "in all outputs" : why.every(isRefused) ? "not accepted" : "excluded from some";
    };
    const rows = shown.map((r) => [
      r.id,
      ...parameters.map((p) => {
        const v = own(r.params, p.name);
        return typeof v === "number" ? formatNumber(v) : (v ?? "–");
      }),
      state(r.id),
    ]);
    return [
      { kind: "heading", level: 3, text: s.name },
      {
        kind: "table",
        head,
        numeric: [false, ...parameters.map((p) => p.type === "number"), false],
        rows,
        ...(s.runs.length > shown.length && { more: `${s.runs.length - shown.length} more runs` }),
      },
    ];
  });
}

function provenance(m: Manifest, withScript: boolean): Block[] {
  const facts: [string, string][] = [
    ["engine", m.engine],
    ["platform", `Node ${m.platform.node}, ${m.platform.system}, mathematics ${m.platform.mathematics.slice(0, 12)}`],
    ...Object.entries(m.script.files).map(([f, s]): [string, string] => [`script ${f}`, `SHA-256 ${s.sha256}`]),
    ...Object.entries(m.inputs).map(([n, i]): [string, string] => [
      `input ${n}`,
      `${said(i.value)}${i.set ? ", set from outside" : ""}`,
    ]),
    ...(m.runsAsked === null ? [] : [["runs asked for", m.runsAsked] as [string, string]]),
    ["input files", `${m.files.length}, ${formatNumber(m.files.reduce((n, f) => n + f.size, 0) / 1e6, 4)} MB`],
  ];
  const shown = m.files.slice(0, 200);
  return [
    { kind: "table", head: ["what", "which"], numeric: [false, false], rows: facts },
    { kind: "heading", level: 3, text: "Input files" },
    {
      kind: "table",
      head: ["study", "file", "bytes", "SHA-256"],
      numeric: [false, false, true, false],
      rows: shown.map((f) => [f.study, f.path, formatNumber(f.size, 15), f.sha256.slice(0, 16)]),
      ...(m.files.length > shown.length && { more: `${m.files.length - shown.length} more in manifest.json` }),
    },
    ...(withScript
      ? Object.entries(m.script.files).flatMap(([f, s]): Block[] => [
          { kind: "heading", level: 3, text: f },
          { kind: "code", text: s.text.trimEnd() },
        ])
      : []),
  ];
}

function said(value: unknown): string {
  if (value !== null && typeof value === "object" && "value" in value) {
    const q = value as { value: number; unit: string | null };
    return `${formatNumber(q.value)} ${displayUnit(q.unit)}`.trim();
  }
  return String(value);
}

/** A report of a job's outputs, as blocks. @throws Error for notes that name an output that is not there */
export async function reportOf(
  name: string,
  o: ReportOptions,
  outputs: readonly ReportedOutput[],
  m: Manifest,
): Promise<Report> {
  const title = o.title ?? name;
  const find = finder(outputs);
  const shown = new Set<string>();
  const body: Block[] = o.notes === undefined ? [] : await notesOf(o.notes, find, shown);
  const rest = o.outputs ? o.outputs.map(find) : outputs.filter((x) => !shown.has(x.record.name));
  const drawn = rest.filter((x) => placeOf(x) === "outputs");
  const values = rest.filter((x) => placeOf(x) === "values");
  if (values.length > 0)
    body.push(
      { kind: "heading", level: 2, text: "Values" },
      {
        kind: "table",
        head: ["value", "", "line"],
        numeric: [false, false, true],
        rows: values.map((v) => [v.record.name, v.record.failed ?? v.record.summary ?? "–", String(v.record.line)]),
      },
    );
  if (drawn.length > 0) body.push({ kind: "heading", level: 2, text: "Outputs" });
  for (const x of drawn) body.push({ kind: "heading", level: 3, text: x.record.name }, ...(await blocksOf(x)));
  const checks = outputs.filter((x) => placeOf(x) === "checks");
  if (checks.length > 0) {
    body.push({ kind: "heading", level: 2, text: "Checks" });
    for (const c of checks)
      body.push({
        kind: "verdict",
        verdict: c.record.verdict ?? "undecided",
        text: `${c.record.name}: ${c.record.failed ?? (c.record.summary ?? "").replace(/^\w+: /, "")}`,
      });
  }
  const left = new Map<string, ExcludedRun[]>();
  for (const l of m.leftOut) left.set(l.run, [...(left.get(l.run) ?? []), l as ExcludedRun]);
  if (o.runs) body.push({ kind: "heading", level: 2, text: "Runs" }, ...runsTable(m, left));
  body.push({ kind: "heading", level: 2, text: "Excluded runs" });
  if (m.leftOut.length === 0)
    body.push({ kind: "paragraph", words: [{ text: "Nothing: every run is in every output." }] });
  else
    body.push({
      kind: "table",
      head: ["run", "why", "of"],
      numeric: [false, false, false],
      rows: m.leftOut
        .slice(0, 500)
        .map((l) => [
          l.run,
          reasonText(l as ExcludedRun),
          l.outputs.length > 4 ? `${l.outputs.length} outputs` : l.outputs.join(", "),
        ]),
    });
  body.push({ kind: "page" }, { kind: "heading", level: 2, text: "Where this comes from" }, ...provenance(m, o.script));
  return { title, cover: coverOf(o, title, outputs, m), body };
}

/** The files of a report. */
export async function reportFiles(
  base: string,
  name: string,
  options: Readonly<Record<string, unknown>>,
  outputs: readonly ReportedOutput[],
  m: Manifest,
): Promise<{ file: string; content: Uint8Array | string }[]> {
  const parsed = reportOptionsSchema.safeParse(options);
  if (!parsed.success)
    throw new Error(`report: ${parsed.error.issues[0]!.path.join(".")}: ${parsed.error.issues[0]!.message}`);
  const report = await reportOf(name, parsed.data, outputs, m);
  const out: { file: string; content: Uint8Array | string }[] = [];
  for (const f of parsed.data.formats)
    out.push({ file: `${base}.${f}`, content: f === "html" ? reportHtml(report) : await reportPdf(report) });
  return out;
}
