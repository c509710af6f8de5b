import type { Command } from "commander";
import { runJob, type JobEvent } from "@oxtrum/engine";
import type { CommandIo } from "../command-io.js";
import { diagnosticLine } from "../progress.js";
import { jobOf, type RunOptions } from "./job-of.js";
import { example, runLike } from "./options.js";

/** `check SCRIPT`: type errors and names that no run has. */
export function addCheck(program: Command, io: CommandIo): void {
  runLike(program.command("check <script>"))
    .description("Type errors and names that no run has, without reading results.")
    .addHelpText(
      "after",
      example("oxtrum check demo/scripts/hall-recovery.ts --study coldstore-doors=demo/data/coldstore-doors"),
    )
    .action(async (script: string, o: RunOptions) => {
      const found: Extract<JobEvent, { type: "diagnostics" }>["diagnostics"][number][] = [];
      const messages: string[] = [];
      await runJob(jobOf(script, { ...o, cache: true }, "dry", io), (e) => {
        if (e.type === "diagnostics") found.push(...e.diagnostics);
        if (e.type === "message" && e.level === "error") messages.push(e.text);
      });
      const errors = found.filter((d) => d.severity === "error").length + messages.length;
      if (o.json) io.print(JSON.stringify({ diagnostics: found, messages }));
      else {
        for (const d of found) io.print(diagnosticLine(d));
        messages.forEach((m) => io.complain(m));
        if (found.length + messages.length === 0) io.print("nothing found");
      }
      io.exit(errors > 0 ? 1 : 0);
    });
}
