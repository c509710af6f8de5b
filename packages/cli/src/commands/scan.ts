import type { Command } from "commander";
import { displayUnit, formatNumber, own } from "@oxtrum/core/tables";
import { keptPlace, scanStudy, type Catalogue } from "@oxtrum/engine";
import type { CommandIo } from "../command-io.js";
import { dataFolder } from "../studies.js";
import { columnsOf, counted } from "../text-table.js";
import { example } from "./options.js";

/** `scan FOLDER`: what a folder holds. */
export function addScan(program: Command, io: CommandIo): void {
  program
    .command("scan <folder>")
    .description("What a folder holds: runs, parameters, files, problems.")
    .option("--json", "as JSON")
    .addHelpText("after", example("oxtrum scan demo/data/coldstore-doors\noxtrum scan results --json"))
    .action(async (folder: string, o: { json?: boolean }) => {
      const c = await scanStudy(folder, { keepIn: keptPlace(dataFolder(io.env), "catalogues") });
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
        io.print(
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
      tell(c, io.print);
    });
}

/** What a folder holds, in words. */
function tell(c: Catalogue, print: (line: string) => void): void {
  print(`${counted(c.runs.length, "run")} (${c.how})`);
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
  const count = c.problems.length + c.runs.reduce((n, r) => n + r.problems.length, 0);
  print(count === 0 ? "no problems" : counted(count, "problem"));
}
