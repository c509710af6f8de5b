import type { ChartDescription } from "@oxtrum/core/charts";
import { displayUnit, type Column, type NumberColumn, type UnitSymbol } from "@oxtrum/core/tables";
import * as t from "@oxtrum/core/tables";
import { Mistake } from "../values.js";

export type AxisSide = "x" | "left" | "right";

interface AxisHead {
  readonly title: string;
  readonly unit: UnitSymbol;
}

/** So many quantities of an axis are named along it. */
const MOST_NAMED = 3;

const said = (unit: UnitSymbol): string => displayUnit(unit) || "no known unit";

/** Titles and units of the axes as the first series sets them; later ones are converted to them. */
export class AxesFrame {
  x: AxisHead | undefined;
  left: AxisHead | undefined;
  right: AxisHead | undefined;
  categories: string[] | undefined;
  yCategories: string[] | undefined;
  /** Whether columns of another kind may go to a second axis of their own. */
  #ownSides = new Map<string, "left" | "right">();
  /** The quantities that are drawn on each side, as they are called. */
  readonly #drawn = { left: new Set<string>(), right: new Set<string>() };

  /** @param like a chart whose axes these have to be, in its units: of panels, which share them */
  constructor(like?: ChartDescription) {
    const head = ({ title, name = title, unit }: ChartDescription["x"]): AxisHead => ({ title: name, unit });
    if (!like) return;
    if (!like.x.categories) this.x = head(like.x);
    if (!like.y.categories && (like.series.length > 0 || like.y.unit !== null)) this.left = head(like.y);
    if (like.right) this.right = head(like.right);
  }

  /** Says that a quantity is drawn on a side. */
  draws(side: "left" | "right", quantity: string): void {
    this.#drawn[side].add(quantity);
  }

  /** What stands along a side that several quantities share: their names. */
  sharedTitle(side: "left" | "right"): string | undefined {
    const names = [...this.#drawn[side]];
    if (names.length < 2) return undefined;
    return names.length > MOST_NAMED ? `${names.slice(0, MOST_NAMED).join(", ")}, …` : names.join(", ");
  }

  /** On which side a column goes: like quantities share an axis, the second kind takes the right one. */
  sideOf(c: NumberColumn, asked: "left" | "right" | undefined): "left" | "right" {
    if (asked) return asked;
    const key = `${t.plainUnit(c.unit)}`;
    const known = this.#ownSides.get(key);
    if (known) return known;
    let side: "left" | "right" = "left";
    if (this.left && !alike(this.left.unit, c.unit)) {
      if (c.unit === null || this.left.unit === null) side = "left";
      else if (!this.right || alike(this.right.unit, c.unit)) side = "right";
      else
        throw new Mistake(
          `chart: "${c.name}" is in ${said(c.unit)}; the axes are in ${said(this.left.unit)} and ` +
            `${said(this.right.unit)}; draw it in a chart of its own`,
        );
    }
    this.#ownSides.set(key, side);
    return side;
  }

  /** Values on an axis, in its unit; words are numbered on the x axis. */
  values(side: AxisSide, c: Column): Float64Array {
    if (c.kind === "text") {
      if (side !== "x") throw new Mistake(`chart: "${c.name}" holds words; only the x axis takes them`);
      this.x ??= { title: c.label ?? c.name, unit: null };
      return numbered((this.categories ??= []), c.values);
    }
    if (side === "x" && this.categories)
      return numbered(
        this.categories,
        Array.from(c.values, (v) => t.formatNumber(v)),
      );
    const have = (this[side] ??= { title: c.label ?? c.name, unit: c.unit });
    if (have.unit === c.unit) return c.values;
    if (have.unit === null || c.unit === null)
      throw new Mistake(
        `chart: "${c.name}" is in ${said(c.unit)}, the axis in ${said(have.unit)}; say it with .unit(), or put it on the right axis`,
      );
    if (!alike(have.unit, c.unit))
      throw new Mistake(
        `chart: "${c.name}" is in ${said(c.unit)}, the axis ${side === "x" ? "along the bottom" : `on the ${side}`} in ` +
          `${said(have.unit)}; draw it in a chart of its own`,
      );
    return t.convertValues(c.values, c.unit, have.unit);
  }

  /** Text along the left, for cells. */
  words(c: Column): Float64Array {
    this.left ??= { title: c.label ?? c.name, unit: null };
    const list = (this.yCategories ??= []);
    return numbered(list, c.kind === "text" ? c.values : Array.from(c.values, (v) => t.formatNumber(v)));
  }
}

function numbered(list: string[], words: readonly string[]): Float64Array {
  const at = new Map(list.map((w, i) => [w, i]));
  return Float64Array.from(words, (w) => {
    let k = at.get(w);
    if (k === undefined) {
      at.set(w, (k = list.length));
      list.push(w);
    }
    return k;
  });
}

function alike(a: UnitSymbol, b: UnitSymbol): boolean {
  if (a === b) return true;
  if (a === null || b === null) return false;
  try {
    t.conversion(t.parseUnit(a), t.parseUnit(b));
    return true;
  } catch {
    return false;
  }
}
