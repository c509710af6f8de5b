/**
 * The script library. A script imports from "oxtrum" (and from sibling modules) and from nothing else.
 *
 * Everything is a recipe until someone needs the number: verbs cost nothing, `emit` says what is wanted.
 */
declare module "oxtrum" {
  /** A column of numbers; `U` is its unit as the file or the study says it, `null` when nobody does. */
  interface Numbers<U extends string | null = string | null> {
    readonly unit: U;
  }
  /** A column of words. */
  interface Words {
    readonly words: true;
  }
  type ColumnKind = Numbers | Words;
  type Columns = { [name: string]: ColumnKind };

  /** Studies by name; filled from their catalogues. */
  interface Studies {}

  interface StudyShape {
    params: { [name: string]: Quantity | string };
    choices: { [name: string]: number | string };
    tables: { [file: string]: Columns };
    lines: { [file: string]: Words };
    beside: { [file: string]: Columns };
  }
  type Shaped<S> = S extends StudyShape ? S : StudyShape;

  type NumberNames<C> = Extract<{ [K in keyof C]: C[K] extends Numbers ? K : never }[keyof C], string>;
  type Names<C> = Extract<keyof C, string>;

  /** A name that the script makes up as it goes; names written out are checked one by one. */
  type Computed = string & { readonly computed?: never };
  type Name<C> = Names<C> | Computed;
  type NumberName<C> = NumberNames<C> | Computed;

  /** A quantity as text with a unit (`"20 min"`), a number in the column's own unit, or a quantity. */
  type Amount = number | string | Quantity;

  /** A number with its unit. Arithmetic checks and converts units. */
  interface Quantity {
    /** The number. Blocks until it is worked out; in `map`, a run whose value cannot be had is left out. */
    readonly value: number;
    /** The unit's symbol; "1" is dimensionless, `null` unknown. */
    readonly unit: string | null;
    /** Why there is no value, where there is none. */
    readonly reason: string | undefined;
    /** Where on the axis an extreme lies. @example t.max("T_mean").at */
    readonly at: Quantity;
    /** The same in another unit. @example t.max("T_mean").in("degC") */
    in(unit: string): Quantity;
    /** The sum; both in agreeing units. */
    plus(other: Quantity | string | number): Quantity;
    /** The difference; that of two temperatures in °C is in K. */
    minus(other: Quantity | string | number): Quantity;
    /** The product. A bare number is dimensionless. */
    times(other: Quantity | string | number): Quantity;
    /** The quotient. @example t.integral("coil_duty").over("1800 s") */
    over(other: Quantity | string | number): Quantity;
    /** A power. @example diameter.power(2) */
    power(exponent: number): Quantity;
    /** The square root, or the root of another degree. */
    root(degree?: number): Quantity;
    /** The size without its sign. */
    abs(): Quantity;
  }

  /** How a text table is to be read where that is not to be found out. */
  interface ReadOptions {
    /** Only these columns. */
    columns?: string[];
    delimiter?: "," | ";" | "\t" | "|" | "blanks";
    decimal?: "." | ",";
    /** The line of the names, from 1; 0 for none. */
    header?: number;
    names?: string[];
    units?: { [column: string]: string };
    encoding?: "utf-8" | "utf-16le" | "utf-16be" | "windows-1252";
    axis?: string;
    /** Where the axis steps back: `auto` drops what is run again after a repeated header, else numbers the passes. */
    restart?: "auto" | "keep-later" | "keep-all";
  }

  /** Named columns of equal length, with units. Every verb gives a new table; names are checked before anything runs. */
  interface Table<C = Columns> {
    /** Only these columns (and the axis). @example t.pick("T_mean", "humidity") */
    pick<N extends Name<C>>(...names: (N | N[])[]): Table<Pick<C, Extract<N, keyof C>>>;
    /** All columns but these. */
    drop<N extends Name<C>>(...names: (N | N[])[]): Table<Omit<C, N>>;
    /** Other names, old to new. @example t.rename({ T_mean: "T" }) */
    rename<M extends { [K in Names<C>]?: string }>(
      names: M,
    ): Table<Omit<C, Extract<keyof M, string>> & { [K in Extract<M[keyof M], string>]: Numbers }>;
    /** The axis for look-ups, weights and integrals from here on. @example t.along("iteration") */
    along(axis: NumberName<C>): Table<C>;
    /** Rows that fulfil a formula, or have given values. @example t.where("T_mean > 275 K") @example t.where({ pass: 2 }) */
    where(condition: string, values?: { [name: string]: Amount }): Table<C>;
    where(condition: { [K in Names<C>]?: number | string | Quantity | (number | string)[] }): Table<C>;
    /**
     * Rows whose axis value lies in the range, ends included. A table that does not reach the ends is noted, or with
     * `cover: "need"` fails for its run. @example t.window("time", ["0 s", "30 min"])
     */
    window(axis: NumberName<C>, range: [Amount, Amount], options?: { cover?: "warn" | "need" }): Table<C>;
    /** Rows in order of a column. */
    sortBy(name: Name<C>, order?: "rising" | "falling"): Table<C>;
    /**
     * A column by formula; units are worked out and checked. Names with blanks are written `col("T mean")`, constants
     * go in `with`. @example t.derive("resultant", "sqrt(Vx^2 + Vy^2)") @example t.derive("dT", "T_mean - Tref", { with: { Tref: "274 K" } })
     */
    derive<N extends string>(
      name: N,
      formula: string,
      options?: { unit?: string; with?: { [name: string]: Amount } },
    ): Table<C & { [K in N]: Numbers }>;
    /** Columns in another unit. @example t.to("T_mean", "degC") */
    to(names: NumberName<C> | NumberName<C>[], unit: string): Table<C>;
    /** Says what a column's unit is, where the file does not. The numbers stay. */
    unit(name: NumberName<C>, unit: string): Table<C>;
    /** The text that charts and tables show for a column; `_{…}` and `^{…}` lower and raise. */
    label(name: Name<C>, label: string): Table<C>;
    /** Adds `name.integral`, the running trapezoidal integral along the axis. */
    cumulative<N extends NumberName<C>>(name: N): Table<C & { [K in `${N}.integral`]: Numbers }>;
    /** Adds `name.rate`, the derivative along the axis: second order, uneven steps allowed (Fornberg 1988). */
    derivative<N extends NumberName<C>>(name: N): Table<C & { [K in `${N}.rate`]: Numbers }>;
    /** Other places on the axis, linear between rows. @example t.resample("time", { step: "10 s" }) */
    resample(
      axis: NumberName<C>,
      spacing: { step: Amount; from?: Amount; to?: Amount } | { at: Amount[] } | { count: number },
    ): Table<C>;
    /** Another table's columns beside this one's, interpolated to its axis; equal names get the suffix `.2`. */
    join<D>(other: Table<D>, options?: { on?: string; suffix?: string }): Table<C & D & Columns>;
    /** Tables one below the other, columns by name. */
    concat(...others: Table<any>[]): Table<C>;
    /** Each number column's change against a baseline row: `name.diff`, `name.percent`. @example peaks.compareTo({ fan: 75 }, { match: ["open"] }) */
    compareTo(
      baseline: { [K in Names<C>]?: number | string | Quantity },
      options?: { match?: Name<C>[] },
    ): Table<C & Columns>;
    /** Where a column passes a level: axis value and direction. */
    crossings(
      name: NumberName<C>,
      level: Amount,
      options?: { direction?: "both" | "rising" | "falling" },
    ): Table<Columns>;
    /** The first rows. */
    head(count: number): Table<C>;

    /** The largest value; `.at` is where it lies. */
    max(name: NumberName<C>): Quantity;
    /** The smallest value; `.at` is where it lies. */
    min(name: NumberName<C>): Quantity;
    /** The mean, weighted along the axis (trapezoidal) unless `weights: "none"`. */
    mean(name: NumberName<C>, options?: { weights?: "axis" | "none" }): Quantity;
    /** The root of the mean square, weighted like `mean`. */
    rms(name: NumberName<C>, options?: { weights?: "axis" | "none" }): Quantity;
    /** The standard deviation, weighted like `mean`; with `weights: "none"` it has n−1 degrees of freedom. */
    std(name: NumberName<C>, options?: { weights?: "axis" | "none" }): Quantity;
    /** A percentile, unweighted, linear between order statistics (Hyndman & Fan 1996, definition 7). */
    percentile(name: NumberName<C>, percent: number): Quantity;
    /** The trapezoidal integral along the axis. */
    integral(name: NumberName<C>, options?: { along?: NumberName<C> }): Quantity;
    /** How many values are present. */
    count(name: NumberName<C>): Quantity;
    first(name: NumberName<C>): Quantity;
    last(name: NumberName<C>): Quantity;
    /** The value at a place on the axis. @example t.at("T_mean", "10 min") */
    at(
      name: NumberName<C>,
      place: Amount | "first" | "last",
      options?: { pick?: "exact" | "nearest" | "linear"; along?: NumberName<C> },
    ): Quantity;
    /** When a column stays within a band about its last (or a given) value, to the end. @example t.settles("T_mean", { within: "0.5 K" }) */
    settles(name: NumberName<C>, options: { within: Amount; to?: Amount }): Quantity;

    /** Names of number columns that fit a pattern, a unit or both; without the axis. @example t.columns({ match: "cells_*" }) */
    columns(query?: { match?: string; unit?: string }): string[];
    /** The numbers of a column. Blocks until they are there. */
    values(name: NumberName<C>): number[];
    /** How many rows there are. Blocks. */
    readonly rowCount: number;
  }

  /** One simulation of a study. */
  interface Run<S extends StudyShape = StudyShape> {
    readonly id: string;
    /** Its parameters: quantities, or words. @example run.params.fan */
    readonly params: S["params"];
    /** A text table of this run. @example run.table("monitors/hall.csv") */
    table<F extends Name<S["tables"]>>(
      file: F,
      options?: ReadOptions,
    ): Table<F extends keyof S["tables"] ? S["tables"][F] : Columns>;
    /** Lines of a log, read by patterns. @example run.lines("solver.log").read("Time = {time:s}", "T residual {rT}") */
    lines(file: Name<S["lines"] & S["tables"]>): {
      /** The first pattern begins a row, the others fill it in. `{name}`, `{name:unit}` a number, `{name:text}` a word, `…` anything. */
      read(...patterns: string[]): Table<Columns>;
    };
    /** Whether the run has a file. */
    has(file: Name<S["lines"] & S["tables"]>): boolean;
  }

  /** Runs in a definite order. */
  interface RunSet<S extends StudyShape = StudyShape> {
    readonly count: number;
    readonly ids: string[];
    /** Runs by their parameters: a value, a list of values, or `{ min, max }`. @example runs.where({ curtain: "none", fan: [50, 75] }) */
    where(
      condition: {
        [K in keyof S["choices"]]?: S["choices"][K] | S["choices"][K][] | { min?: number; max?: number };
      } & { id?: string | string[] },
    ): RunSet<S>;
    where(condition: (run: Run<S>) => boolean): RunSet<S>;
    sort(parameter: Name<S["choices"]>, order?: "rising" | "falling"): RunSet<S>;
    /** Something from each run. Do not change outer variables in the callback: runs are worked out in any order. */
    map<T>(make: (run: Run<S>) => T): RunMap<T, S>;
    /** One row a run. @example runs.rows((run) => ({ fan: run.params.fan, peak: run.table("monitors/hall.csv").max("T_mean") })) */
    rows<R extends { [name: string]: Cell }>(make: (run: Run<S>) => R): Table<RowColumns<R>>;
  }

  type Cell = Quantity | number | string | boolean | null | undefined;
  type RowColumns<R> = { run: Words } & { [K in keyof R]: R[K] extends string ? Words : Numbers };

  /** What a callback gave for each run. */
  interface RunMap<T, S extends StudyShape = StudyShape> {
    readonly ids: string[];
    map<U>(make: (value: T, run: Run<S>) => U): RunMap<U, S>;
    /** One row a run. @example air.rows((t, run) => ({ fan: run.params.fan, peak: t.max("T_mean") })) */
    rows<R extends { [name: string]: Cell }>(make: (value: T, run: Run<S>) => R): Table<RowColumns<R>>;
    /** All tables one below the other, with a column for the run and one for each parameter. */
    stack(): Table<(T extends Table<infer C> ? C : Columns) & { run: Words } & Columns>;
    /** One column a run, on every place any run has. */
    wide(name: T extends Table<infer C> ? NumberName<C> : string): Table<Columns>;
    /** What one run gave. */
    get(id: string): T;
  }

  /** A folder of results. */
  interface Study<S extends StudyShape = StudyShape> {
    readonly name: string;
    readonly runs: RunSet<S>;
    /** A table beside the runs. @example study("coldstore-doors").table("measured/loggers.csv") */
    table<F extends Name<S["beside"]>>(
      file: F,
      options?: ReadOptions,
    ): Table<F extends keyof S["beside"] ? S["beside"][F] : Columns>;
  }

  /** A study by the name under which it is registered or given on the command line. @example study("coldstore-doors").runs */
  export function study<N extends Names<Studies>>(name: N): Study<Shaped<Studies[N]>>;

  type BandColumns<C> = {
    [K in `${NumberNames<C>}.${"mean" | "std" | "min" | "max" | "n" | `p${number}`}`]: Numbers;
  } & { [K in "time" | "x" | "y" | "z" | "iteration"]: Numbers } & C;

  /**
   * Statistics across runs on a common axis: for each column `.mean`, `.std` (n−1), `.min`, `.max`, `.n` and the
   * percentiles asked for (`.p5`). The axis is the union of the runs' places unless said otherwise.
   * @example across(air, { on: "time", percentiles: [5, 95] })
   */
  export function across<C, S extends StudyShape>(
    runs: RunMap<Table<C>, S>,
    options?: {
      on?: NumberName<C>;
      columns?: NumberName<C>[];
      axis?: "union" | "intersection" | { step: Amount };
      percentiles?: number[];
    },
  ): Table<BandColumns<C>>;

  interface ChartOptions {
    /** `_{…}` lowers, `^{…}` raises. */
    title?: string;
    subtitle?: string;
    xTitle?: string;
    yTitle?: string;
    rightTitle?: string;
    xScale?: "linear" | "log";
    yScale?: "linear" | "log";
    xRange?: [number, number];
    yRange?: [number, number];
    xReversed?: boolean;
    yReversed?: boolean;
    legend?: "top" | "none";
    /** Width and height of the files, in pixels at scale 1. */
    size?: [number, number];
  }
  interface SeriesOptions<C, P> extends ChartOptions {
    /** The column along the bottom; the table's axis when not given. */
    x?: Name<C>;
    /** The column or columns to draw. */
    y?: NumberName<C> | NumberName<C>[];
    /** Columns on a second axis at the right. */
    right?: NumberName<C> | NumberName<C>[];
    /** A parameter that sets the colour: a ramp for numbers, distinct colours for words. */
    color?: P;
    /** A parameter that sets the dash. */
    dash?: P;
    /** The text in the legend. */
    name?: string;
    /** Thin and pale, behind the rest. */
    faint?: boolean;
    /** The axis upwards and the values along the bottom, as for profiles over height. */
    upright?: boolean;
  }

  /** A chart, for `emit.chart` or `chart.layers`. */
  interface Chart {
    readonly chart: true;
  }

  export const chart: {
    /** Lines of a table, or of each run's table. @example chart.lines(air, { x: "time", y: "T_mean", color: "fan" }) */
    lines<C, S extends StudyShape>(data: RunMap<Table<C>, S>, options?: SeriesOptions<C, Name<S["choices"]>>): Chart;
    lines<C>(data: Table<C>, options?: SeriesOptions<C, never>): Chart;
    /** Points of a table, or of each run's table. */
    points<C, S extends StudyShape>(data: RunMap<Table<C>, S>, options?: SeriesOptions<C, Name<S["choices"]>>): Chart;
    points<C>(data: Table<C>, options?: SeriesOptions<C, never>): Chart;
    /** Bars over words or numbers. */
    bars<C>(data: Table<C>, options?: SeriesOptions<C, never>): Chart;
    /** A band from `across`: edges and the line between. @example chart.band(across(air, { on: "time" }), { y: "T_mean", show: ["mean", "min", "max"] }) */
    band<C>(
      data: Table<C>,
      options?: ChartOptions & {
        y?: string | string[];
        along?: Name<C>;
        show?: string[];
        upright?: boolean;
        name?: string;
      },
    ): Chart;
    /** Charts on the same axes. */
    layers(charts: Chart[], options?: ChartOptions): Chart;
  };

  interface Limits {
    below?: Amount;
    above?: Amount;
    within?: [Amount, Amount];
    equal?: Amount;
    /** `allow`: judge by the runs that are there. Without it, a run that is left out makes the check undecided. */
    missing?: "allow";
  }

  /** Names what is wanted. Nothing is worked out that no `emit` asks for. */
  export const emit: {
    /** A table, or the tables of runs stacked or wide. @example emit.table("peaks", peaks, { formats: ["csv", "json"] }) */
    table<C>(name: string, table: Table<C>, options?: { formats?: ("csv" | "json")[] }): void;
    table<T, S extends StudyShape>(
      name: string,
      tables: RunMap<T, S>,
      options?: { formats?: ("csv" | "json")[]; layout?: "stacked" | "wide"; column?: string },
    ): void;
    /** A chart, as SVG and PNG unless said otherwise. */
    chart(name: string, chart: Chart, options?: { formats?: ("svg" | "png")[] }): void;
    /** A number. */
    value(name: string, quantity: Quantity): void;
    /** An assertion with its limit. It never passes on what is missing. @example emit.check("cold enough", peaks.max("peak"), { below: "8 degC" }) */
    check(name: string, quantity: Quantity, limits: Limits): void;
    /** A note. */
    text(name: string, text: string): void;
  };

  /** A quantity. @example q("20 min") @example q(0.5, "K") */
  export function q(text: string): Quantity;
  export function q(value: number, unit: string): Quantity;

  /** A value that can be set from outside: `oxtrum run … --set limit="15 min"`. @example input("limit", q("20 min")) */
  export function input(name: string, fallback: Quantity): Quantity;
  export function input(name: string, fallback: number): number;
  export function input(name: string, fallback: string): string;
  export function input(name: string, fallback: boolean): boolean;
}
