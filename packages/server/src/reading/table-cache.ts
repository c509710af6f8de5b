import fs from "node:fs";
import path from "node:path";
import type { Table } from "@oxtrum/core/tables";
import { Budget, FileReader, inside, resolveFile, type IdentityRemembered } from "@oxtrum/engine";
import type { TablePlace } from "./questions.js";

const MOST_BYTES = 256e6;
/** A table that is read for a page may be so large. */
const MEMORY = 3e9;

const sizeOf = (t: Table): number =>
  t.columns.reduce(
    (n, c) => n + (c.kind === "number" ? c.values.byteLength : c.values.reduce((m, v) => m + 2 * v.length + 16, 0)),
    0,
  );

/** Tables that pages look at, as scripts read them; the last ones are kept, by their bytes. */
export class TableCache {
  readonly #tables = new Map<string, { readonly stamp: string; readonly table: Table; readonly bytes: number }>();
  readonly #memo = new Map<string, IdentityRemembered>();
  #bytes = 0;

  /** @throws FormatError when it cannot be read; Error for a path that leads out of the study */
  get(p: TablePlace): Table {
    const key = JSON.stringify([p.study, p.folder, p.run?.id ?? null, p.file, p.definition]);
    const stamp = this.#stamp(p);
    const kept = this.#tables.get(key);
    this.#forget(key);
    const table = kept && stamp !== undefined && kept.stamp === stamp ? kept.table : this.#read(p);
    const bytes = sizeOf(table);
    if (bytes > MOST_BYTES || stamp === undefined) return table;
    this.#tables.set(key, { stamp, table, bytes });
    this.#bytes += bytes;
    for (const oldest of this.#tables.keys()) {
      if (this.#bytes <= MOST_BYTES) break;
      this.#forget(oldest);
    }
    return table;
  }

  #forget(key: string): void {
    this.#bytes -= this.#tables.get(key)?.bytes ?? 0;
    this.#tables.delete(key);
  }

  #stamp(p: TablePlace): string | undefined {
    try {
      return resolveFile(p.definition, p.file)
        .paths.map((f) => {
          const s = fs.statSync(inside(p.folder, path.posix.join(p.run?.folder ?? "", f), p.definition.links), {
            bigint: true,
          });
          return `${s.size}/${s.mtimeNs}/${s.ctimeNs}/${s.ino}`;
        })
        .join();
    } catch {
      return undefined;
    }
  }

  #read(p: TablePlace): Table {
    if (this.#memo.size > 10_000) this.#memo.clear();
    const runs = p.run ? [p.run] : [];
    const study = { name: p.study, folder: p.folder, definition: p.definition, runs };
    const reader = new FileReader(new Map([[p.study, study]]), this.#memo, Budget.create(MEMORY));
    const args = { study: p.study, file: p.file, ...(p.run && { run: 0 }) };
    return reader.plan(p.run ? "run.table" : "study.table", args).read();
  }
}
