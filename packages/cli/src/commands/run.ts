import path from "node:path";
import type { Command } from "commander";
import { conditionText, formatNumber, mergeConditions, type Condition } from "@oxtrum/core/tables";
import {
  checkArchiveFile,
  reasonText,
  runUnlessUnchanged,
  writeArchive,
  type JobEvent,
  type ExcludedRun,
  type OutputRecord,
} from "@oxtrum/engine";
import type { CommandIo } from "../command-io.js";
import { Progress } from "../progress.js";
import { columnsOf, counted } from "../text-table.js";
import { watch } from "./watch.js";
import { jobOf, type RunOptions } from "./job-of.js";
import { example, runLike, toInteger } from "./options.js";

/** `run SCRIPT`: runs a script on all runs and writes its outputs, or only says what it asks for. */
export function addRun(program: Command, io: CommandIo): void {
  runLike(program.command("run <script>"))
    .description("Runs a script on all runs and writes its outputs.")
    .option("--out <dir>", "where the outputs go")
    .option("--workers <n>", "threads that read and compute", toInteger)
    .option("--memory <mb>", "megabytes of large arrays at most (4000)")
    .option("--no-cache", "compute everything anew, without the cache")
    .option("--style <file>", "how charts look (oxtrum.style.json beside the script when there is one)")
    .option("--archive <file>", "also the whole job as one archive, which can be run again")
    .option("--watch", "run again whenever files of the studies change, until Ctrl+C")
    .option("--until <state>", "with --watch: end when all runs are finished or failed (finished)")
    .option("--dry", "only say what the script asks of which run, and what is missing")
    .addHelpText(
      "after",
      example(`oxtrum run demo/scripts/hall-recovery.ts --study coldstore-doors=demo/data/coldstore-doors --out out
      oxtrum run hall-recovery.ts --study coldstore-doors=data --out out --runs "fan=50,curtain=none" --set limit="15 min"
      oxtrum run hall-recovery.ts --study coldstore-doors=data --dry
      oxtrum run hall-recovery.ts --study coldstore-doors=data --out out --watch --until finished
      oxtrum run hall-recovery.ts --study coldstore-doors=data --out out --archive job.zip
      oxtrum run job.zip --study coldstore-doors=data --out again`) +
        "\nExit codes: 0 all well, 1 an error in the script, 2 runs were excluded, 3 a check failed or is undecided.\n",
    )
    .action(async (script: string, o: RunOptions) => runCommand(script, o, o.dry ? "dry" : "run", io));
}

async function runCommand(script: string, o: RunOptions, mode: "run" | "dry", io: CommandIo): Promise<void> {
  if (mode === "run" && o.out === undefined) throw new Error("say where the outputs go with --out DIR");
  const progress = new Progress(io.progress, o.json === true);
  const diagnostics: unknown[] = [];
  const messages: unknown[] = [];
  let seen: Extract<JobEvent, { type: "asked" }> | undefined;
  const asked = jobOf(script, o, mode, io);
  if (o.until !== undefined && (o.until !== "finished" || !o.watch))
    throw new Error('--until takes "finished", together with --watch');
  if (o.watch) {
    if (mode === "dry" || o.archive !== undefined) throw new Error("--watch goes with neither --dry nor --archive");
    return io.exit(await watch(asked, { until: o.until, json: o.json === true }, io));
  }
  if (o.archive !== undefined) checkArchiveFile(path.resolve(o.archive), asked.studies);
  const result = await runUnlessUnchanged(
    asked,
    (e) => {
      progress.tell(e);
      if (e.type === "diagnostics") diagnostics.push(...e.diagnostics);
      if (e.type === "message") messages.push({ level: e.level, text: e.text, file: e.file, line: e.line });
      if (e.type === "asked") seen = e;
    },
    io.signal,
  );
  progress.end();
  io.exit(result.exit);
  if (o.archive !== undefined && result.manifest)
    writeArchive(path.resolve(o.archive), path.resolve(o.out!), asked.studies);
  if (mode === "dry") printAsked(o.json === true, seen, diagnostics, result.exit, io);
  else if (o.json)
    io.print(
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
    io.complain(
      `${counted(summary.runs, "run")}, ${summary.left.length} excluded, ${formatNumber(summary.seconds, 3)} s` +
        (result.unchanged ? "; nothing has changed since the job before" : ""),
    );
    for (const line of leftOutLines(summary.left, result.outputs)) io.complain(`  ${line}`);
    printConditions(result.outputs, io);
  }
}

const MOST_SHOWN = 20;

/** Each reason why a run is excluded, once, with the outputs that it is missing in where these are not all. */
function leftOutLines(left: readonly ExcludedRun[], outputs: readonly OutputRecord[]): string[] {
  const reasons = new Map<string, Set<string>>();
  const said = (l: ExcludedRun): string => `${l.run}: ${reasonText(l)}`;
  for (const o of outputs)
    for (const l of o.left) reasons.set(said(l), (reasons.get(said(l)) ?? new Set()).add(o.name));
  for (const l of left) if (![...reasons.keys()].includes(said(l))) reasons.set(said(l), new Set());
  const ofRuns = outputs.filter((o) => o.runs > 0 || o.left.length > 0).length;
  return [...reasons]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([reason, of]) => {
      return of.size === 0 || of.size === ofRuns ? reason : `${reason} ${listed([...of])}`;
    });
}

/** The first outputs of a list. */
const listed = (names: readonly string[]): string =>
  `[${names.slice(0, 3).join(", ")}${names.length > 3 ? ` and ${names.length - 3} more` : ""}]`;

/** What is known of the worth of the files that outputs were made from, and what drawings, named, do not show. */
function printConditions(outputs: readonly OutputRecord[], { complain }: CommandIo): void {
  const conditions = mergeConditions(...outputs.map((x) => x.conditions));
  if (conditions.length === 0) return;
  const drawings = (c: Condition): string => {
    if (c.kind !== "not drawn") return "";
    const line = conditionText(c);
    const of = outputs.filter((o) => o.conditions?.some((x) => x.study === c.study && conditionText(x) === line));
    return ` ${listed(of.map((o) => o.name))}`;
  };
  complain(`${conditions.length} condition${conditions.length === 1 ? "" : "s"} of input files and drawings:`);
  for (const c of conditions.slice(0, MOST_SHOWN)) complain(`  ${conditionText(c)}${drawings(c)}`);
  if (conditions.length > MOST_SHOWN) complain(`  and ${conditions.length - MOST_SHOWN} more; the manifest lists them`);
}

function printAsked(
  json: boolean,
  asked: Extract<JobEvent, { type: "asked" }> | undefined,
  diagnostics: unknown[],
  exit: number,
  { print }: CommandIo,
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
