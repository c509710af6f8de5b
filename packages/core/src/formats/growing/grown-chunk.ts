import type { Chunk } from "../text-table/body.js";
import { joinedLines } from "../text-table/joined-chunks.js";

/**
 * The chunks of a file that goes on, as one: a further chunk costs what is new of it, not all that was there. Numbers
 * have room behind them, and what was given out before stays as it was.
 */
export class GrownChunk {
  #chunk: Chunk;
  readonly #room: (Float64Array | undefined)[];

  constructor(first: Chunk) {
    // A chunk lies in memory for as many rows as its bytes might have been.
    const columns = first.columns.map((c) => c?.slice());
    this.#chunk = { ...first, columns };
    this.#room = columns.map((c) => (c instanceof Float64Array ? c : undefined));
  }

  get rows(): number {
    return this.#chunk.rows;
  }

  /** All so far. Its numbers lie in memory that goes on behind them. */
  get chunk(): Chunk {
    return this.#chunk;
  }

  /** Memory of the numbers, bytes. */
  get held(): number {
    return this.#room.reduce((n, r) => n + (r?.byteLength ?? 0), 0);
  }

  append(c: Chunk): void {
    const before = this.#chunk;
    const rows = before.rows + c.rows;
    const columns = before.columns.map((column, k) => {
      if (column === undefined) return undefined;
      if (!(column instanceof Float64Array)) return [...column, ...(c.columns[k] as string[])];
      let room = this.#room[k]!;
      if (room.length < rows) {
        room = new Float64Array(Math.max(rows, 2 * room.length));
        room.set(column);
        this.#room[k] = room;
      }
      room.set(c.columns[k] as Float64Array, before.rows);
      return room.subarray(0, rows);
    });
    this.#chunk = { ...joinedLines([before, c]), columns };
  }
}
