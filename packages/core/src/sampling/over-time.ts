import {
  makeTable,
  numberColumn,
  numbersOf,
  TableError,
  type Column,
  type NumberColumn,
  type Table,
  type UnitSymbol,
} from "../tables/table.js";
import { stepOf } from "../tables/units.js";

/** What is computed over time at each place. */
export type TimeStatistic = "mean" | "rms" | "std" | "min" | "max" | "timeOfMin" | "timeOfMax";

const fixed = new Set(["x", "y", "z", "distance", "station", "size", "point", "cell", "place"]);

/**
 * Statistics over time at each place of a site, without holding more than one time: columns `T.mean`, `T.rms` and so
 * on. Means are weighted by time (trapezoids between the times); one time alone counts as it is. The deviation is that
 * about the mean; it is gathered in one pass, about the first value, so that a large mean costs no digits.
 */
export class OverTime {
  #first: Table | undefined;
  readonly #sums: {
    name: string;
    unit: UnitSymbol;
    base: Float64Array;
    last: Float64Array;
    sum: Float64Array;
    square: Float64Array;
    min: Float64Array;
    max: Float64Array;
    atMin: Float64Array;
    atMax: Float64Array;
  }[] = [];
  #time = 0;
  #total = 0;
  #count = 0;

  add(time: number, table: Table): void {
    if (!this.#first) {
      this.#first = table;
      for (const c of table.columns)
        if (c.kind === "number" && !fixed.has(c.name)) {
          const v = c.values;
          this.#sums.push({
            name: c.name,
            unit: c.unit,
            base: v.slice(),
            last: v.slice(),
            sum: new Float64Array(v.length),
            square: new Float64Array(v.length),
            min: v.slice(),
            max: v.slice(),
            atMin: v.map(() => time),
            atMax: v.map(() => time),
          });
        }
      this.#time = time;
      this.#count = 1;
      return;
    }
    if (table.rows !== this.#first.rows)
      throw new TableError("the places differ from one time to another: statistics over time need the same ones");
    const step = time - this.#time;
    for (const s of this.#sums) {
      const now = (table.columns.find((c) => c.name === s.name) as NumberColumn).values;
      for (let i = 0; i < now.length; i++) {
        const [a, b] = [s.last[i]! - s.base[i]!, now[i]! - s.base[i]!];
        s.sum[i]! += (step * (a + b)) / 2;
        // The square of what is linear between the two times.
        s.square[i]! += (step * (a * a + a * b + b * b)) / 3;
        if (now[i]! < s.min[i]!) [s.min[i], s.atMin[i]] = [now[i]!, time];
        if (now[i]! > s.max[i]!) [s.max[i], s.atMax[i]] = [now[i]!, time];
      }
      s.last.set(now);
    }
    this.#time = time;
    this.#total += step;
    this.#count++;
  }

  /** @throws TableError when nothing was added */
  result(wanted: readonly TimeStatistic[], axisUnit: UnitSymbol, axis: string): Table {
    const first = this.#first;
    if (!first) throw new TableError("there is no time to compute over");
    const t = this.#total;
    const kept = first.columns.filter((c) => c.kind === "text" || fixed.has(c.name));
    const made = this.#sums.flatMap((s): Column[] => {
      const mean = s.base.map((b, i) => b + (t > 0 ? s.sum[i]! / t : 0));
      const variance = s.base.map((_, i) => (t > 0 ? Math.max(0, s.square[i]! / t - (s.sum[i]! / t) ** 2) : 0));
      const step = stepOf(s.unit);
      return wanted.map((w): Column => {
        const name = `${s.name}.${w}`;
        if (w === "mean") return numberColumn(name, s.unit, mean);
        if (w === "std") return numbersOf(variance, name, step.unit, (v) => Math.sqrt(v) * step.factor);
        if (w === "rms")
          return numberColumn(
            name,
            s.unit,
            mean.map((m, i) => Math.sqrt(variance[i]! + m * m)),
          );
        if (w === "min" || w === "max") return numberColumn(name, s.unit, s[w].slice());
        return numberColumn(
          name,
          axisUnit,
          (w === "timeOfMin" ? s.atMin : s.atMax).map((v, i) => (Number.isNaN(s.min[i]!) ? Number.NaN : v)),
        );
      });
    });
    const notes = [...first.notes, `over ${this.#count} times, weighted by ${axis}`];
    return makeTable([...kept, ...made], { axis: first.axis, notes });
  }
}
