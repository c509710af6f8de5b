import { bundled } from "@oxtrum/engine/bundled";
import { AnsweringThread, type ThreadLimits } from "../threads/answering-thread.js";
import type { Curve, ReadingQuestion, ScanAnswer, SeriesAnswer, SeriesAxes, TablePlace } from "./questions.js";

const module = bundled("reading.worker.cjs") ?? new URL("./reading.worker.js", import.meta.url);
const limits = (seconds: number, late: string, memory = 2048): ThreadLimits => ({ seconds, late, memory });

/**
 * The threads that read for pages: one scans studies, one reads tables and kept values, one packs and verifies. So a
 * scan of thousands of runs does not keep a preview waiting, nor an archive a table.
 */
export class Reading {
  readonly #scanner = new AnsweringThread<ReadingQuestion>(
    module,
    limits(600, "Scanning this study took more than ten minutes of processor time. Is the folder the right one?"),
  );
  readonly #tables = new AnsweringThread<ReadingQuestion>(
    module,
    limits(60, "Reading this table took more than a minute of processor time. Use a script for it."),
  );
  readonly #records = new AnsweringThread<ReadingQuestion>(
    module,
    limits(3600, "This took more than an hour of processor time; use the command oxtrum for it.", 4096),
  );

  scan(q: { name: string; folder: string; keepIn: string }, progress: (p: unknown) => void): Promise<ScanAnswer> {
    return this.#scanner.ask({ kind: "scan", ...q }, progress) as Promise<ScanAnswer>;
  }

  rows(place: TablePlace, from: number, to: number): Promise<object> {
    return this.#tables.ask({ kind: "rows", place, from, to }) as Promise<object>;
  }

  series(place: TablePlace, column: string, points: number, as: SeriesAxes | undefined): Promise<SeriesAnswer> {
    return this.#tables.ask({ kind: "series", place, column, points, as }) as Promise<SeriesAnswer>;
  }

  curves(place: TablePlace): Promise<readonly Curve[]> {
    return this.#tables.ask({ kind: "curves", place }) as Promise<readonly Curve[]>;
  }

  /** A kept value as JSON text. @param rows rows of a table at most */
  value(file: string, from: number | undefined, to: number | undefined, rows: number): Promise<string> {
    return this.#tables.ask({ kind: "value", file, from, to, rows }) as Promise<string>;
  }

  async archive(outputs: string, into: string): Promise<void> {
    await this.#records.ask({ kind: "archive", outputs, into });
  }

  verify(manifest: string, folders: Readonly<Record<string, string>>): Promise<object> {
    return this.#records.ask({ kind: "verify", manifest, folders }) as Promise<object>;
  }

  close(): void {
    this.#scanner.close();
    this.#tables.close();
    this.#records.close();
  }
}
