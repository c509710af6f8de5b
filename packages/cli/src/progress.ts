import { plainText } from "@oxtrum/core/tables";
import { counted } from "./text-table.js";
import type { CommandIo } from "./command-io.js";
import type { JobEvent, ScriptDiagnostic } from "@oxtrum/engine";

export const diagnosticLine = (d: ScriptDiagnostic): string =>
  `${d.file}:${d.line}:${d.column} ${d.severity === "warning" ? "warning: " : ""}${d.message}`;

/** Tells a job's progress: a bar on a terminal, plain lines otherwise. */
export class Progress {
  #total = 0;
  #runs = new Set<string>();
  #drawn = false;
  readonly #seen = new Set<string>();

  constructor(
    private readonly out: CommandIo["progress"],
    private readonly quiet: boolean,
  ) {}

  tell(e: JobEvent): void {
    if (this.quiet) return;
    switch (e.type) {
      case "stage":
        if (!this.out.isTTY && e.stage !== "writing")
          this.#line(`${e.stage}${e.text === undefined ? "" : ` ${e.text}`}`);
        break;
      case "diagnostics":
        for (const d of e.diagnostics) this.#line(diagnosticLine(d));
        break;
      case "grid":
        this.#total = e.runs.length;
        break;
      case "cells":
        if (e.cells.every((c) => c.state !== "running")) this.#runs.add(`${e.study}/${e.run}`);
        this.#bar();
        break;
      case "message": {
        const place = e.file === undefined ? "" : ` (${e.file}${e.line === undefined ? "" : `:${e.line}`})`;
        const text = `${e.level === "note" ? "" : `${e.level}: `}${e.text}${place}`;
        if (!this.#seen.has(text)) this.#line(text);
        this.#seen.add(text);
        break;
      }
      case "output": {
        const o = e.output;
        const files = o.files.map((f) => f.file).join(", ");
        const left = o.left.length > 0 ? `, ${o.left.length} excluded` : "";
        const rows = o.rows === undefined ? "drawn" : counted(o.rows, "row");
        const made = o.summary ?? (o.runs > 0 ? `${counted(o.runs, "run")}${left}` : rows);
        const what = o.failed !== undefined ? `not made: ${o.failed}` : made;
        this.#line(`  ${o.kind} ${o.name}: ${what}${files === "" ? "" : ` → ${files}`}`);
        break;
      }
      default:
        break;
    }
  }

  end(): void {
    if (this.#drawn) this.out.write("\r\u001b[K");
    this.#drawn = false;
  }

  #line(text: string): void {
    this.end();
    this.out.write(plainText(text) + "\n");
  }

  #bar(): void {
    if (!this.out.isTTY || this.#total === 0) return;
    const share = this.#runs.size / this.#total;
    this.out.write(
      `\r[${"#".repeat(Math.round(share * 30)).padEnd(30, ".")}] ${this.#runs.size} of ${this.#total} runs\u001b[K`,
    );
    this.#drawn = true;
  }
}
