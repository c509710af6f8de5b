import fs from "node:fs";
import path from "node:path";
import type { Command } from "commander";
import { readManifest, verifyManifest } from "@oxtrum/engine";
import type { CommandIo } from "../command-io.js";
import { Progress } from "../progress.js";
import { parseStudy } from "../studies.js";
import { example, studyOption, toInteger } from "./options.js";

/** `verify MANIFEST`: runs a job again with an empty cache and compares. */
export function addVerify(program: Command, io: CommandIo): void {
  program
    .command("verify <manifest>")
    .description("Runs a job again with an empty cache and compares every output with the manifest.")
    .addOption(studyOption())
    .option("--workers <n>", "threads that read and compute", toInteger)
    .option("--json", "as JSON")
    .addHelpText("after", example("oxtrum verify out/manifest.json --study coldstore-doors=demo/data/coldstore-doors"))
    .action(async (file: string, o: { study: string[]; workers?: number; json?: boolean }) => {
      const progress = new Progress(io.progress, true);
      const given = Object.fromEntries(o.study.map(parseStudy).map((s) => [s.name, s.folder]));
      for (const s of readManifest(file).studies)
        if (!Object.hasOwn(given, s.name) && fs.existsSync(s.name)) given[s.name] = path.resolve(s.name);
      const v = await verifyManifest(file, given, {
        tell: (e) => progress.tell(e),
        signal: io.signal,
        ...(o.workers !== undefined && { workers: o.workers }),
      });
      if (o.json) io.print(JSON.stringify(v));
      else {
        for (const x of v.outputs)
          io.print(`${x.verdict.padEnd(12)} ${x.name}${x.detail === undefined ? "" : `: ${x.detail}`}`);
        for (const i of v.inputs) io.print(`input ${i.change}: ${i.study}/${i.path}`);
        for (const n of v.notes) io.print(`note: ${n}`);
        io.print(v.same ? "All outputs are the same." : "Outputs differ.");
      }
      io.exit(v.same ? 0 : 1);
    });
}
