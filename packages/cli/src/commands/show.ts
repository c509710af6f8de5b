import type { Command } from "commander";
import type { CommandIo } from "../command-io.js";
import { show } from "../show.js";
import { example } from "./options.js";

/** `show FILE`: what is in one file. */
export function addShow(program: Command, io: CommandIo): void {
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
      io.exit(show(file, o, io.print, io.complain));
    });
}
