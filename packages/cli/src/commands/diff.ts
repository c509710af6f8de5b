import type { Command } from "commander";
import { diffJobs } from "@oxtrum/engine";
import type { CommandIo } from "../command-io.js";
import { printDiff } from "../print-diff.js";
import { example, toNumber } from "./options.js";

/** `diff THEN NOW`: what differs between two folders of outputs. */
export function addDiff(program: Command, io: CommandIo): void {
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
      if (o.json) io.print(JSON.stringify(d));
      else printDiff(d).forEach((l) => io.print(l));
      io.exit(d.verdict === "changed" ? 3 : 0);
    });
}
