import fs from "node:fs";
import path from "node:path";
import { Command, CommanderError, InvalidArgumentError, Option } from "commander";
import {
  conditionText,
  displayUnit,
  formatNumber,
  mergeConditions,
  own,
  plainText,
  type Condition,
} from "@oxtrum/core/tables";
import {
  checkArchiveFile,
  diffJobs,
  engineVersion,
  jobRequestSchema,
  readManifest,
  runJob,
  scanStudy,
  verifyManifest,
  writeArchive,
  type JobEvent,
  type JobRequestInput,
  type LeftOut,
  type OutputRecord,
} from "@oxtrum/engine";
import { printDiff } from "./print-diff.js";
import { Progress } from "./progress.js";
import { show } from "./show.js";
import { archived, dataFolder, parseSettings, parseStudy, readScript, styleFor } from "./studies.js";
import { columnsOf } from "./text-table.js";

// What files, scripts and names hold may be shown, but never steers the terminal.
const print = (s: string): void => void process.stdout.write(plainText(s) + "\n");
const complain = (s: string): void => void process.stderr.write(plainText(s) + "\n");
const lines = (write: (s: string) => void) => (text: string) => text.replace(/\n$/, "").split("\n").forEach(write);
// Whoever reads the output may have seen enough: that is no error.
process.stdout.on("error", (e: NodeJS.ErrnoException) => process.exit(e.code === "EPIPE" ? 0 : 1));
const collect = (value: string, list: string[]): string[] => [...list, value];
const toInteger = (v: string): number => {
  const n = Number(v);
  if (!Number.isInteger(n) || n < 1) throw new Error(`"${v}" is not a whole number above zero`);
  return n;
};

const abort = new AbortController();
let interrupted = false;
process.on("SIGINT", () => {
  if (interrupted) process.exit(130);
  interrupted = true;
  complain("stopping; press Ctrl+C again to end at once");
  abort.abort();
});

const program = new Command("oxtrum")
  .description("Runs scripts on folders of simulation results.")
  .version(engineVersion())
  .showHelpAfterError("Add --help for examples.")
  .configureOutput({ writeOut: lines(print), writeErr: lines(complain) })
  .exitOverride();

const example = (text: string): string =>
  `\nExamples:\n${text
    .trim()
    .split("\n")
    .map((l) => "  " + l.trim())
    .join("\n")}\n`;
const studyOption = new Option("--study <name=folder>", "a study and where it is; may be given several times")
  .argParser(collect)
  .default([] as string[], "none");

interface RunOptions {
  study: string[];
  out?: string;
  runs?: string;
  set: string[];
  workers?: number;
  cache: boolean;
  dry?: boolean;
  json?: boolean;
  memory?: string;
  style?: string;
  archive?: string;
}

program
  .command("scan <folder>")
  .description("What a folder holds: runs, parameters, files, problems.")
  .option("--json", "as JSON")
  .addHelpText("after", example("oxtrum scan demo/data/coldstore-doors\noxtrum scan results --json"))
  .action(async (folder: string, o: { json?: boolean }) => {
    const c = await scanStudy(folder, { keepIn: path.join(dataFolder(), "catalogues") });
    const problems = c.runs.flatMap((r) => r.problems);
    if (o.json) {
      const runs = c.runs.map((r) => ({
        id: r.id,
        parameters: r.params,
        files: Object.entries(r.files).map(([p, f]) => ({
          path: p,
          size: f.size,
          ...(f.shape !== undefined && {
            columns: c.shapes[f.shape]!.columns.map(({ name, unit, kind }) => ({ name, unit, type: kind })),
          }),
          ...(f.last !== undefined && { last: f.last }),
          ...(f.error !== undefined && { error: f.error }),
        })),
        problems: r.problems.map(({ kind, file, text }) => ({ kind, ...(file !== undefined && { file }), text })),
      }));
      print(
        JSON.stringify({
          runs,
          parameters: c.parameters,
          problems: [...c.problems, ...problems].map(({ run, kind, file, text }) => ({
            run,
            kind,
            ...(file !== undefined && { file }),
            text,
          })),
        }),
      );
      return;
    }
    print(`${c.runs.length} runs (${c.how})`);
    const heads = c.parameters.map((p) => (displayUnit(p.unit) ? `${p.name} ${displayUnit(p.unit)}` : p.name));
    const rows = c.runs.slice(0, 60).map((r) => [
      r.id,
      ...c.parameters.map((p) => {
        const v = own(r.params, p.name);
        return typeof v === "number" ? formatNumber(v) : (v ?? "–");
      }),
      String(Object.keys(r.files).length),
      r.problems.map((p) => p.text).join("; "),
    ]);
    for (const line of columnsOf(["run", ...heads, "files", "problems"], rows, [
      false,
      ...c.parameters.map((p) => p.type === "number"),
      true,
      false,
    ]))
      print("  " + line);
    if (c.runs.length > 60) print(`  and ${c.runs.length - 60} more`);
    for (const p of c.problems) print(`  ${p.text}`);
    const count = problems.length + c.problems.length;
    print(count === 0 ? "no problems" : `${count} problems`);
  });

program
  .command("show <file>")
  .description(
    "What is in one file: columns, units, ranges, missing values, skipped lines; or points, cells, fields, times, patches.",
  )
  .option("--deep", "of mesh files: read all values, for ranges, areas and volumes")
  .option("--json", "as JSON")
  .option("--rows <a:b>", "also the values of these rows, from 0, b excluded")
  .addHelpText(
    "after",
    example(
      "oxtrum show demo/data/coldstore-doors/runs/075_080_none/monitors/sensors.dat\noxtrum show results.csv --json --rows 0:10",
    ),
  )
  .action((file: string, o: { json?: boolean; rows?: string }) => {
    process.exitCode = show(file, o, print, complain);
  });

function request(script: string, o: RunOptions, mode: "run" | "dry"): ReturnType<typeof jobRequestSchema.parse> {
  const job = script.endsWith(".zip")
    ? archived(script, o.study.map(parseStudy))
    : { ...readScript(script), studies: o.study.map(parseStudy), inputs: {} };
  const input: JobRequestInput = {
    ...job,
    style: styleFor(script, o.style),
    inputs: { ...job.inputs, ...parseSettings(o.set) },
    mode,
    cache: o.cache,
    dataFolder: dataFolder(),
    ...(o.runs !== undefined && { runs: o.runs }),
    ...(o.workers !== undefined && { workers: o.workers }),
    ...(o.out !== undefined && mode === "run" && { outFolder: path.resolve(o.out) }),
    ...(o.memory !== undefined && { memory: Number(o.memory) * 1e6 }),
  };
  return jobRequestSchema.parse(input);
}

async function runCommand(script: string, o: RunOptions, mode: "run" | "dry"): Promise<void> {
  if (mode === "run" && o.out === undefined) throw new Error("say where the outputs go with --out DIR");
  const progress = new Progress(process.stderr, o.json === true);
  const diagnostics: unknown[] = [];
  const messages: unknown[] = [];
  let seen: Extract<JobEvent, { type: "asked" }> | undefined;
  const asked = request(script, o, mode);
  if (o.archive !== undefined) checkArchiveFile(path.resolve(o.archive), asked.studies);
  const result = await runJob(
    asked,
    (e) => {
      progress.tell(e);
      if (e.type === "diagnostics") diagnostics.push(...e.diagnostics);
      if (e.type === "message") messages.push({ level: e.level, text: e.text, file: e.file, line: e.line });
      if (e.type === "asked") seen = e;
    },
    abort.signal,
  );
  progress.end();
  process.exitCode = result.exit;
  if (o.archive !== undefined && result.manifest)
    writeArchive(path.resolve(o.archive), path.resolve(o.out!), asked.studies);
  if (mode === "dry") printAsked(o.json === true, seen, diagnostics, result.exit);
  else if (o.json)
    print(
      JSON.stringify({
        exit: result.exit,
        outputs: result.outputs,
        leftOut: result.summary.left,
        conditions: mergeConditions(...result.outputs.map((x) => x.conditions)),
        diagnostics,
        messages,
      }),
    );
  else {
    const { summary } = result;
    complain(`${summary.runs} runs, ${summary.left.length} left out, ${formatNumber(summary.seconds, 3)} s`);
    for (const line of leftOutLines(summary.left, result.outputs)) complain(`  ${line}`);
    printConditions(mergeConditions(...result.outputs.map((x) => x.conditions)));
  }
}

const MOST_SHOWN = 20;

/** Each reason why a run is left out, once, with the outputs that it is missing in where these are not all. */
function leftOutLines(left: readonly LeftOut[], outputs: readonly OutputRecord[]): string[] {
  const reasons = new Map<string, Set<string>>();
  const said = (l: LeftOut): string =>
    `${l.run}: ${l.reason}${l.file === undefined ? "" : ` (${l.file}${l.line === undefined ? "" : `:${l.line}`})`}`;
  for (const o of outputs)
    for (const l of o.left) reasons.set(said(l), (reasons.get(said(l)) ?? new Set()).add(o.name));
  for (const l of left) if (![...reasons.keys()].includes(said(l))) reasons.set(said(l), new Set());
  const ofRuns = outputs.filter((o) => o.runs > 0 || o.left.length > 0).length;
  return [...reasons]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([reason, of]) => {
      if (of.size === 0 || of.size === ofRuns) return reason;
      const names = [...of].slice(0, 3).join(", ");
      return `${reason} [${names}${of.size > 3 ? ` and ${of.size - 3} more` : ""}]`;
    });
}

/** What is known of the worth of the files that outputs were made from. */
function printConditions(conditions: readonly Condition[]): void {
  if (conditions.length === 0) return;
  complain(`${conditions.length} condition${conditions.length === 1 ? "" : "s"} of input files:`);
  for (const c of conditions.slice(0, MOST_SHOWN)) complain(`  ${conditionText(c)}`);
  if (conditions.length > MOST_SHOWN) complain(`  and ${conditions.length - MOST_SHOWN} more; the manifest lists them`);
}

function printAsked(
  json: boolean,
  asked: Extract<JobEvent, { type: "asked" }> | undefined,
  diagnostics: unknown[],
  exit: number,
): void {
  if (json) {
    print(JSON.stringify({ exit, complete: asked?.complete ?? false, asks: asked?.asked ?? [], diagnostics }));
    return;
  }
  if (!asked) return;
  const runs = [...new Set(asked.asked.map((a) => a.run))];
  const files = [...new Set(asked.asked.map((a) => a.file))];
  const rows = runs.map((run) => [
    run,
    ...files.map((f) => {
      const a = asked.asked.find((x) => x.run === run && x.file === f);
      return a === undefined ? "" : a.missing === undefined ? "reads" : "missing";
    }),
  ]);
  for (const line of columnsOf(["run", ...files], rows, [false, ...files.map(() => false)])) print(line);
  if (!asked.complete)
    print("The script reads values before it ends; what it asks for after that is not known before the run.");
}

const toNumber = (text: string): number => {
  const x = Number(text);
  if (!(x >= 0)) throw new InvalidArgumentError("It has to be a number, zero or more.");
  return x;
};

const runLike = (c: Command): Command =>
  c
    .addOption(studyOption)
    .option("--set <name=value>", "sets an input of the script; may be given several times", collect, [] as string[])
    .option("--runs <selector>", "only these runs: ids, patterns, parameter=value; separated by commas")
    .option("--json", "as JSON");

runLike(program.command("check <script>"))
  .description("Type errors and names that no run has, without reading results.")
  .addHelpText(
    "after",
    example("oxtrum check demo/scripts/hall-recovery.ts --study coldstore-doors=demo/data/coldstore-doors"),
  )
  .action(async (script: string, o: RunOptions) => {
    const found: Extract<JobEvent, { type: "diagnostics" }>["diagnostics"][number][] = [];
    const messages: string[] = [];
    await runJob(request(script, { ...o, cache: true }, "dry"), (e) => {
      if (e.type === "diagnostics") found.push(...e.diagnostics);
      if (e.type === "message" && e.level === "error") messages.push(e.text);
    });
    const errors = found.filter((d) => d.severity === "error").length + messages.length;
    if (o.json) print(JSON.stringify({ diagnostics: found, messages }));
    else {
      for (const d of found)
        print(`${d.file}:${d.line}:${d.column} ${d.severity === "warning" ? "warning: " : ""}${d.message}`);
      messages.forEach(complain);
      if (found.length + messages.length === 0) print("nothing found");
    }
    process.exitCode = errors > 0 ? 1 : 0;
  });

runLike(program.command("run <script>"))
  .description("Runs a script on all runs and writes its outputs.")
  .option("--out <dir>", "where the outputs go")
  .option("--workers <n>", "threads that read and compute", toInteger)
  .option("--memory <mb>", "megabytes of large arrays at most (4000)")
  .option("--no-cache", "work everything out anew")
  .option("--style <file>", "how charts look (oxtrum.style.json beside the script when there is one)")
  .option("--archive <file>", "also the whole job as one archive, which can be run again")
  .option("--dry", "only say what the script asks of which run, and what is missing")
  .addHelpText(
    "after",
    example(`oxtrum run demo/scripts/hall-recovery.ts --study coldstore-doors=demo/data/coldstore-doors --out out
      oxtrum run hall-recovery.ts --study coldstore-doors=data --out out --runs "fan=50,curtain=none" --set limit="15 min"
      oxtrum run hall-recovery.ts --study coldstore-doors=data --dry
      oxtrum run hall-recovery.ts --study coldstore-doors=data --out out --archive job.zip
      oxtrum run job.zip --study coldstore-doors=data --out again`) +
      "\nExit codes: 0 all well, 1 an error in the script, 2 runs were left out, 3 a check failed or is undecided.\n",
  )
  .action(async (script: string, o: RunOptions) => runCommand(script, o, o.dry ? "dry" : "run"));

program
  .command("verify <manifest>")
  .description("Runs a job again with an empty cache and compares every output with the manifest.")
  .addOption(studyOption)
  .option("--workers <n>", "threads that read and compute", toInteger)
  .option("--json", "as JSON")
  .addHelpText("after", example("oxtrum verify out/manifest.json --study coldstore-doors=demo/data/coldstore-doors"))
  .action(async (file: string, o: { study: string[]; workers?: number; json?: boolean }) => {
    const progress = new Progress(process.stderr, true);
    const given = Object.fromEntries(o.study.map(parseStudy).map((s) => [s.name, s.folder]));
    for (const s of readManifest(file).studies)
      if (!Object.hasOwn(given, s.name) && fs.existsSync(s.name)) given[s.name] = path.resolve(s.name);
    const v = await verifyManifest(file, given, {
      tell: (e) => progress.tell(e),
      signal: abort.signal,
      ...(o.workers !== undefined && { workers: o.workers }),
    });
    if (o.json) print(JSON.stringify(v));
    else {
      for (const x of v.outputs)
        print(`${x.verdict.padEnd(12)} ${x.name}${x.detail === undefined ? "" : `: ${x.detail}`}`);
      for (const i of v.inputs) print(`input ${i.change}: ${i.study}/${i.path}`);
      for (const n of v.notes) print(`note: ${n}`);
      print(v.same ? "All outputs are the same." : "Outputs differ.");
    }
    process.exitCode = v.same ? 0 : 1;
  });

program
  .command("diff <then> <now>")
  .description("What differs between two folders of outputs: script, inputs, runs, and what moved in every output.")
  .option("--absolute <x>", "numbers that moved by no more than this count as the same", toNumber, 0)
  .option("--relative <x>", "the same as a share of the larger number", toNumber, 0)
  .option("--json", "as JSON")
  .addHelpText(
    "after",
    example("oxtrum diff out/monday out/friday --relative 1e-6") +
      "\nExit codes: 0 the same or within the tolerance, 3 something changed, 1 the folders cannot be compared.\n",
  )
  .action((then: string, now: string, o: { absolute: number; relative: number; json?: boolean }) => {
    const d = diffJobs(then, now, { absolute: o.absolute, relative: o.relative });
    if (o.json) print(JSON.stringify(d));
    else printDiff(d).forEach(print);
    process.exitCode = d.verdict === "changed" ? 3 : 0;
  });

program.parseAsync().catch((e: unknown) => {
  if (e instanceof CommanderError) process.exitCode = e.exitCode === 0 ? 0 : 1;
  else {
    complain(`oxtrum: ${(e as Error).message}`);
    process.exitCode = 1;
  }
});
