import type { Column } from "../../tables/table.js";

/** The values of one column, row by row, as they are found: those that no line gives stay missing. */
export class RowCells {
  #numbers: Float64Array;
  readonly #texts: string[] = [];

  /** @param missing what a row has that gets no value, of a column of numbers */
  constructor(
    readonly name: string,
    readonly kind: "number" | "text",
    readonly unit: string | null,
    private readonly missing = Number.NaN,
  ) {
    this.#numbers = new Float64Array(kind === "number" ? 64 : 0).fill(missing);
  }

  set(row: number, cell: number | string): void {
    if (this.kind === "text") {
      while (this.#texts.length < row) this.#texts.push("");
      this.#texts[row] = cell as string;
      return;
    }
    this.#reach(row);
    this.#numbers[row] = cell as number;
  }

  add(row: number, amount: number): void {
    this.#reach(row);
    this.#numbers[row]! += amount;
  }

  /** Gives a row the value of another one. */
  copy(from: number, to: number): void {
    if (this.kind === "text") this.set(to, this.#texts[from] ?? "");
    else this.set(to, from < this.#numbers.length ? this.#numbers[from]! : this.missing);
  }

  /**
   * The column of so many rows.
   *
   * @param carried a value holds on until there is a new one
   * @param final nothing comes any more: the column is on memory of its own, and not where further rows go
   */
  column(rows: number, carried: boolean, final: boolean): Column {
    const { kind, name } = this;
    if (kind === "text") {
      const values = Array.from({ length: rows }, (_, i) => this.#texts[i] ?? "");
      if (carried) for (let i = 1; i < rows; i++) if (values[i] === "") values[i] = values[i - 1]!;
      return { kind, name, values };
    }
    this.#reach(rows - 1);
    const values = final || carried ? this.#numbers.slice(0, rows) : this.#numbers.subarray(0, rows);
    if (carried) for (let i = 1; i < rows; i++) if (values[i] !== values[i]) values[i] = values[i - 1]!;
    return { kind, name, unit: this.unit, values };
  }

  #reach(row: number): void {
    if (row < this.#numbers.length) return;
    const more = new Float64Array(Math.max(row + 1, 2 * this.#numbers.length)).fill(this.missing);
    more.set(this.#numbers);
    this.#numbers = more;
  }
}
