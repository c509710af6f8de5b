/**
 * The script library. A script imports from "oxtrum" (and from sibling modules) and from nothing else.
 *
 * Tables and values are lazy: verbs cost nothing, and a number is computed when `emit` or `.value` needs it.
 *
 * That a table with more columns serves where fewer are asked for is declared (`out`): finding it out from all verbs,
 * as the checker would, takes three quarters of a check.
 */
declare module "oxtrum" {
  /** A column of numbers; `U` is its unit as the file or the study says it, `null` when nobody does. */
  interface Numbers<U extends string | null = string | null> {
    readonly unit: U;
  }
  /** A column of words. */
  interface Text {
    readonly words: true;
  }
  type ColumnKind = Numbers | Text;
  type Columns = { [name: string]: ColumnKind };

  /** Studies by name; filled from their catalogues. */
  interface Studies {}

  interface StudyShape {
    params: { [name: string]: Quantity | string };
    choices: { [name: string]: number | string };
    tables: { [file: string]: Columns };
    lines: { [file: string]: Text };
    fields: { [file: string]: { fields: FieldKinds; blocks: string; times: number } };
    beside: { [file: string]: Columns };
  }
  type Shaped<S> = S extends StudyShape ? S : StudyShape;

  /** A field of one number per point; `U` is its unit. */
  interface Scalar<U extends string | null = string | null> {
    readonly scalar: U;
  }
  /** A field of three numbers per point: components `.x`, `.y`, `.z` and the magnitude `.mag`. */
  interface Vector<U extends string | null = string | null> {
    readonly vector: U;
  }
  type FieldKinds = { [name: string]: Scalar | Vector };
  type Scalars<F> = Extract<{ [K in keyof F]: F[K] extends Scalar ? K : never }[keyof F], string>;
  type Vectors<F> = Extract<{ [K in keyof F]: F[K] extends Vector ? K : never }[keyof F], string>;
  type Parts<F> = `${Vectors<F>}.${"x" | "y" | "z" | "mag" | "along" | "normal"}`;
  /** A field, or a component of one. */
  type FieldName<F> = Scalars<F> | Vectors<F> | Parts<F> | Computed;
  /** What is one number per point: a scalar, or a component. */
  type ScalarName<F> = Scalars<F> | Parts<F> | Computed;
  type Sampled<F> = { [K in Scalars<F>]: F[K] extends Scalar<infer U> ? Numbers<U> : Numbers } & {
    [K in Parts<F>]: Numbers;
  } & { [K in "x" | "y" | "z" | "distance" | "station" | "size" | "point" | "cell"]: Numbers } & { place: Text };

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
    /**
     * The number. Blocks until it is computed; in `map`, a run whose value cannot be had is left out.
     * @example t.max("T_mean").in("degC").value
     */
    readonly value: number;
    /** The unit's symbol; "1" is dimensionless, `null` unknown. @example t.max("coil_duty").unit() */
    unit(): string | null;
    /**
     * The same number in a unit that is not known otherwise, as of a constant of a fitted formula.
     * @example fit.formula(peaks, "a * fan", { y: "peak", x: "fan", start: { a: 1 } }).term("a").unit("K")
     */
    unit(symbol: string): Quantity;
    /** Why there is no value, where there is none. @example t.settles("T_mean", { within: "0.5 K" }).reason */
    readonly reason: string | undefined;
    /** Where on the axis an extreme lies. @example t.max("T_mean").at */
    readonly at: Quantity;
    /** The same in another unit. @example t.max("T_mean").in("degC") */
    in(unit: string): Quantity;
    /** The sum; both in agreeing units. @example q("20 min").plus("30 s") */
    plus(other: Quantity | string | number): Quantity;
    /** The difference; that of two temperatures in °C is in K. @example t.max("T_mean").minus(t.first("T_mean")) */
    minus(other: Quantity | string | number): Quantity;
    /** The product. A bare number is dimensionless. @example t.mean("coil_duty").times("1 h").in("kWh") */
    times(other: Quantity | string | number): Quantity;
    /** The quotient. @example t.integral("coil_duty").over("1800 s") */
    over(other: Quantity | string | number): Quantity;
    /** A power. @example diameter.power(2) */
    power(exponent: number): Quantity;
    /** The square root, or the root of another degree. @example q("9 m^2").root() */
    root(degree?: number): Quantity;
    /** The size without its sign. @example t.min("door_flow").abs() */
    abs(): Quantity;
  }

  /** How a text table is to be read where that is not to be found out. */
  interface ReadOptions {
    /** Only these columns. */
    columns?: string[];
    /** What stands between the fields; `blanks` is any number of blanks and tabs. */
    delimiter?: "," | ";" | "\t" | "|" | "blanks";
    /** The sign before the decimals. */
    decimal?: "." | ",";
    /** The line of the names, from 1; 0 for none. */
    header?: number;
    /** The columns' names, where the file has none or wrong ones. */
    names?: string[];
    /** Units by column, where the file does not say them. */
    units?: { [column: string]: string };
    /** How the text is written in bytes. */
    encoding?: "utf-8" | "utf-16le" | "utf-16be" | "windows-1252";
    /** The column along which the rows are ordered. */
    axis?: string;
    /**
     * Where the axis steps back: `auto` keeps the later rows of an overlap after a repeated header or in a further file, and
     * numbers the passes otherwise.
     */
    restart?: "auto" | "keep-later" | "keep-all";
    /** A last line without a line end: `auto` reads it when its last value is written as long as in the line before. */
    lastLine?: "auto" | "read" | "skip";
  }

  /** How values count in a mean: along the axis, alike, or by a column. */
  type Weights<C> = "axis" | "none" | { by: NumberName<C> };

  /**
   * Named columns of equal length, with units. Every verb gives a new table; names are checked before anything runs.
   * Most verbs are declared where they are defined.
   */
  interface Table<out C = Columns> {
    /**
     * How a column agrees with a reference: a table (measured data, another run) at its own points, or a formula of this table's columns.
     * `within` is an amount or `{ relative: "5 %" }`; `shift` moves this table along its axis first, by an amount or by what agrees best.
     * @example t.against(air.get("100_080_none"), { y: "T_mean", within: "0.5 K" }).rms()
     * @example t.against("274 K + 3 K * exp(-time / 600 s)", { y: "T_mean" }).bias()
     */
    against<D>(
      reference: Table<D> | string,
      options: {
        y: NumberName<C>;
        reference?: NumberName<D>;
        on?: NumberName<C>;
        within?: Amount | { relative: Amount };
        shift?: "estimate" | Amount;
        maxLag?: Amount;
        with?: { [name: string]: Amount };
      },
    ): Agreement;
    /**
     * Names of number columns that fit a pattern, a unit or both; without the axis.
     * @example t.columns({ match: "cells_*" })
     */
    columns(query?: { match?: string; unit?: string }): string[];
    /** The numbers of a column. Blocks until they are there. @example t.values("T_mean").length */
    values(name: NumberName<C>): number[];
    /** How many rows there are. Blocks. @example t.rowCount */
    readonly rowCount: number;
  }

  /** One simulation of a study. */
  interface Run<out S extends StudyShape = StudyShape> {
    /** Its name in the study: the part of its path that tells it from the others. @example run.id */
    readonly id: string;
    /**
     * The run's state by the rules in the study's definition: `finished`, `failed`, `diverging`, `running` or `waiting`.
     * Without rules every run is finished. @example runs.where((run) => run.state !== "failed").ids
     */
    readonly state: "finished" | "failed" | "diverging" | "running" | "waiting";
    /** Its parameters: quantities, or words. @example run.params.fan */
    readonly params: S["params"];
    /** A text table of this run. @example run.table("monitors/hall.csv") */
    table<F extends Name<S["tables"]>>(
      file: F,
      options?: ReadOptions,
    ): Table<F extends keyof S["tables"] ? S["tables"][F] : Columns>;
    /** Lines of a log, read by patterns. @example run.lines("solver.log").read("t {time:s} s | it {iteration} | dT {dT} | dU {dU}") */
    lines(file: Name<S["lines"] & S["tables"]>): {
      /**
       * The first pattern begins a row, the others fill it in. `{name}`, `{name:unit}` a number, `{name:text}` a text, `…` anything.
       * @example run.lines("solver.log").read("t {time:s} s | it 1 |", "| it {iteration} | dT {dT}", { several: "last" })
       */
      read(...patterns: (string | LineOptions)[]): Table<Columns>;
    };
    /**
     * A field of this run: a mesh file, a collection of times (its ending may be left out), or a pattern whose stars are
     * numbers (one file per step) or names (one file per block). @example run.field("fields/hall")
     */
    field<F extends Name<S["fields"]>>(
      file: F,
    ): Field<
      F extends keyof S["fields"] ? S["fields"][F]["fields"] : FieldKinds,
      F extends keyof S["fields"] ? S["fields"][F]["blocks"] : string,
      F extends keyof S["fields"] ? S["fields"][F]["times"] : number
    >;
    /** Whether the run has a file. @example run.has("monitors/sensors.dat") */
    has(file: Name<S["lines"] & S["tables"]>): boolean;
  }

  /** How the lines of a log become rows. */
  interface LineOptions {
    /**
     * When a pattern matches several lines of one row: the `first` or the `last` value (default), `all` in columns
     * `r`, `r#2`, …, or `rows`: one row per match, each with the values of the first pattern.
     */
    several?: "first" | "last" | "all" | "rows";
    /**
     * Columns whose value holds on in the following rows until there is a new one.
     * @example { carry: ["iteration"] }
     */
    carry?: string[];
    /**
     * Clocks and counters that go on rising, such as the wall-clock or processor time since the start: a column
     * `name.increment` has what each row adds. Where a clock begins anew, after a restart, its own value counts.
     * @example run.lines("solver.log").read("t {time:s} s | it 1 |", "| wall {wall:s} s", { increments: ["wall"] })
     */
    increments?: string[];
    /**
     * Columns that count the lines of each row that hold a text; capitals and small letters are alike.
     * @example run.lines("solver.log").read("t {time:s} s | it 1 |", { count: { warnings: "warning:" } })
     */
    count?: Record<string, string>;
  }

  /** Where to sample; made by `at`. */
  interface Site<B extends string = string> {
    readonly site: B;
  }

  type Place = [x: number, y: number, z: number];

  /** Bounds of a plane, axis by axis. */
  type Bounds = { [K in "x" | "y" | "z"]?: [from: number, to: number] };
  interface Spacing {
    /** How many points, both ends included; 100 unless said otherwise. */
    count?: number;
    /** Or about how far apart they are; the ends stay. */
    step?: number;
  }

  /** An option of every site. */
  interface InBlock {
    /**
     * Only blocks of this name or pattern. Without it all blocks of the highest dimension are sampled: volumes, not the
     * boundary surfaces in the same file.
     */
    block?: string;
  }

  /** Sites: where to sample. Coordinates are those of the mesh. They are declared where they are defined. */
  interface Sites {}
  export const at: Sites;

  /** What a force comes from: pressure across the faces, a shear stress along them, or both. */
  interface Load<F> {
    pressure?: ScalarName<F>;
    shear?: Vectors<F> | Computed;
    /** Taken off the pressure, in its unit. */
    reference?: number;
  }

  type Reduction<F> =
    | {
        mean: ScalarName<F>;
        /** By area, volume or length unless said otherwise. `flow` is mass flow, where a density is given. */
        weights?: "size" | "plain" | { by: ScalarName<F> } | { flow: Vectors<F> | Computed; density?: ScalarName<F> };
      }
    /** With `place`, also where: columns `name.x name.y name.z`. */
    | { min: ScalarName<F>; place?: true }
    | { max: ScalarName<F>; place?: true }
    | { std: ScalarName<F> }
    | { percentile: number; of: ScalarName<F> }
    | { uniformity: ScalarName<F> }
    | { integral: ScalarName<F> }
    | { flux: Vectors<F> | Computed }
    /** The middle of the site, or of a quantity spread over it: columns `name.x name.y name.z`. */
    | { centre: ScalarName<F> | true }
    | { force: Load<F> }
    | { moment: Load<F>; about: Place }
    | { size: true }
    /**
     * In a column: where the fill passes `at` (0.5), or as if all stood at the bottom. `true` with a radius for particles:
     * the highest one where their density is at least the share `at` (0.25) of that in the bulk.
     */
    | { level: ScalarName<F> | true; at?: number; by?: "crossing" | "sum"; radius?: number };

  type Reduced<R> = { [K in keyof R]: Numbers } & {
    [K in "x" | "y" | "z" | "distance" | "time" | `${Extract<keyof R, string>}.${"x" | "y" | "z"}`]: Numbers;
  };

  interface SampleOptions {
    /**
     * `inside` (cells, by their shape functions) unless said otherwise; for scattered points `nearest`,
     * `inverse-distance`, `linear` (in the triangles or tetrahedra between them, missing outside their hull), `fitted-plane`
     * (through the nearest by least squares, outside too) or `kriging`. What was done is noted in the table.
     */
    method?: "inside" | "nearest" | "inverse-distance" | "linear" | "fitted-plane" | "kriging";
    /** How many of the nearest points count. */
    nearest?: number;
    /** Of inverse distance: the exponent, 2 unless said otherwise. */
    power?: number;
    /** Of inverse distance: no farther than this. */
    radius?: number;
    /** Of kriging: the form of its variogram, spherical unless said otherwise. */
    model?: "spherical" | "exponential" | "gaussian" | "linear";
    /** Of kriging; estimated from the data when not given. */
    range?: number;
    /** Of kriging; the values' variance when not given. */
    sill?: number;
    /** Of kriging; 0 when not given. */
    nugget?: number;
    /** What the rows run over: the distance along the site, a coordinate, or the distance along a direction. */
    axis?: "distance" | "x" | "y" | "z" | Place;
    /** The point that distances are measured from; alone, in any direction. */
    from?: Place;
  }

  interface Gaps {
    /**
     * `allow`: a time that cannot be read is missing, with its reason, instead of taking the run's whole history
     * along.
     */
    gaps?: "refuse" | "allow";
  }

  /** A time that the study has, or any other amount. */
  type Instant<T> = T | (number & { readonly computed?: never }) | string | Quantity;

  type TimeStatistic = "mean" | "rms" | "std" | "min" | "max" | "timeOfMin" | "timeOfMax";

  /** A field on a mesh, over its times. Verbs say when, where and what; nothing is read until a number is needed. */
  interface Field<out F = FieldKinds, out B extends string = string, out T extends number = number> {
    /**
     * One time: a value on the field's axis, `"first"` or `"last"`; exactly that one unless `pick` says `nearest` or
     * `linear` between two.
     * @example hall.at({ time: "450 s" }).sample(at.point([12, 4, 1]), "temperature")
     */
    at(
      when: { time: Instant<T> | "first" | "last" } | { step: Instant<T> } | "first" | "last",
      options?: { pick?: "exact" | "nearest" | "linear" },
    ): Field<F, B, T>;
    /**
     * Only these times, ends included, for a history or statistics over time.
     * @example run.field("fields/hall").window(["0 s", "600 s"]).history(at.point([12, 4, 1]), "temperature")
     */
    window(range: [Instant<T>, Instant<T>]): Field<F, B, T>;
    /**
     * A field by formula of others and of x, y, z, made after sampling; units are computed and checked.
     * @example hall.derive("warm", "temperature - T0", { with: { T0: "274 K" } }).sample(at.point([12, 4, 1]), "warm")
     */
    derive<N extends string>(
      name: N,
      formula: string,
      options?: { unit?: string; with?: { [name: string]: Amount } },
    ): Field<F & { [K in N]: Scalar }, B, T>;
    /**
     * The gradient, in each cell: a vector of a scalar; of a vector nine numbers, `.xy` is ∂Ux/∂y. From the shape functions
     * of point fields, by least squares of cell fields. It is named `.gradient` after the field unless said otherwise.
     * @example hall.gradient("temperature").sample(at.point([12, 4, 1]), "temperature.gradient.z")
     */
    gradient<K extends Scalars<F> | Vectors<F> | Computed, N extends string = `${K}.gradient`>(
      of: K,
      options?: { name?: N },
    ): Field<F & { [M in N]: Vector }, B, T>;
    /**
     * The divergence of a vector, in each cell.
     * @example hall.divergence("velocity").reduce(at.all(), { out: { integral: "velocity.divergence" } })
     */
    divergence<K extends Vectors<F> | Computed, N extends string = `${K}.divergence`>(
      of: K,
      options?: { name?: N },
    ): Field<F & { [M in N]: Scalar }, B, T>;
    /** The curl of a vector, in each cell. @example hall.curl("velocity").sample(at.point([12, 4, 1]), "velocity.curl.mag") */
    curl<K extends Vectors<F> | Computed, N extends string = `${K}.curl`>(
      of: K,
      options?: { name?: N },
    ): Field<F & { [M in N]: Vector }, B, T>;
    /**
     * Values at a site: one row per point (or, on planes and patches, one per piece with its `size`). Inside a cell by its shape
     * functions; outside the mesh blank, and counted. `velocity.along` is along a line, `velocity.normal` across a plane or patch.
     * @example hall.sample(at.line([12, 4, 0.1], [12, 4, 5.9]), ["temperature", "velocity.mag", "velocity.along"])
     * @example hall.sample(at.line([12, 4, 0.1], [12, 4, 5.9]), "temperature", { axis: "z" })
     */
    sample(site: Site<B | Computed>, fields: FieldName<F> | FieldName<F>[], options?: SampleOptions): Table<Sampled<F>>;
    /**
     * Numbers from a site: means weighted by area, volume or length, extremes and where, percentiles, integrals, flow
     * through it, forces, levels; one row, or one per station.
     * @example hall.reduce(at.plane({ x: 12 }), { temperature: { mean: "temperature" }, hot: { max: "temperature", place: true }, flow: { flux: "velocity" } })
     */
    reduce<R extends { [name: string]: Reduction<F> }>(
      site: Site<B | Computed>,
      reductions: R,
      options?: SampleOptions,
    ): Table<Reduced<R>>;
    /**
     * The same over time: reductions, or fields at points (columns `T@1`, or `T@name`); all times, those of the
     * window, or those given.
     * @example run.field("fields/hall").history(at.plane({ x: 12 }), { speed: { mean: "velocity.mag" } })
     */
    history<R extends { [name: string]: Reduction<F> }>(
      site: Site<B | Computed>,
      reductions: R,
      options?: SampleOptions & Gaps & { times?: Instant<T>[] },
    ): Table<Reduced<R>>;
    history(
      site: Site<B | Computed>,
      fields: FieldName<F> | FieldName<F>[],
      options?: SampleOptions & Gaps & { times?: Instant<T>[] },
    ): Table<Columns>;
    /**
     * Statistics over time at each point: columns `T.mean`, `T.rms`, `T.min`, `T.max`, or those to `show`. Means are
     * weighted by time, linear between the times.
     * @example run.field("fields/hall").window(["0 s", "600 s"]).overTime(at.line([12, 4, 0.1], [12, 4, 5.9], { count: 20 }), "temperature", { show: ["mean", "max", "timeOfMax"] })
     */
    overTime(
      site: Site<B | Computed>,
      fields: FieldName<F> | FieldName<F>[],
      options?: SampleOptions & Gaps & { show?: TimeStatistic[] },
    ): Table<
      { [K in `${Scalars<F> | Parts<F>}.${TimeStatistic}`]: Numbers } & {
        [K in "x" | "y" | "z" | "distance"]: Numbers;
      } & Columns
    >;
    /**
     * What a picture shows of a plane, a patch, a surface of equal value or the whole mesh: a table of its triangles, with `value` in
     * the field's unit; `vectors` names a field for arrows and streamlines in a plane.
     * @example hall.surface(at.plane({ y: 4 }), { color: "temperature", vectors: "velocity" }).to("value", "degC")
     */
    surface(
      site: Site<B | Computed>,
      options?: { color?: FieldName<F>; vectors?: FieldName<F>; outline?: boolean },
    ): Table<SurfaceColumns>;
    /** The field's times. @example run.field("fields/hall").times() */
    times(): Table<{ time: Numbers; step: Numbers }>;
    /**
     * A row per block, its pieces together: the dimension of its cells, how many cells and points, and length, area and volume of
     * its lines, faces and volumes; missing where it has none. @example run.field("fields/hall").blocks()
     */
    blocks(): Table<BlockColumns>;
    /** The same of the patches alone: blocks whose cells are faces. @example walls.patches() */
    patches(): Table<BlockColumns>;
  }

  /** Runs in a definite order. */
  interface RunSet<out S extends StudyShape = StudyShape> {
    /** How many there are; known without reading anything. @example runs.where({ fan: 50 }).count */
    readonly count: number;
    /** Their ids, in order. @example runs.where({ curtain: "strip" }).ids */
    readonly ids: string[];
    /**
     * Runs by their parameters: a value, a list of values, or `{ min, max }`, bare or with a unit; by `id`, with
     * stars; what no run of the study has is an error.
     * @example runs.where({ curtain: "none", fan: [50, 75] })
     */
    where(
      condition: {
        [K in keyof S["choices"]]?:
          | S["choices"][K]
          | S["choices"][K][]
          | Quantity
          | (S["choices"][K] extends number ? `${number} ${string}` : never)
          | { min?: Amount; max?: Amount };
      } & { id?: string | string[] },
    ): RunSet<S>;
    where(condition: (run: Run<S>) => boolean): RunSet<S>;
    /**
     * The runs that the rules in the study's definition accept ("accept" in oxtrum.study.json). The others are named with the value that
     * decided in every output; checks are not undecided for them. @example study("coldstore-doors").runs.accepted.ids
     */
    readonly accepted: RunSet<S>;
    /**
     * The runs that are finished by the rules in the study's definition ("states" in oxtrum.study.json). The others are
     * named with their state in every output; those that have not failed leave checks undecided.
     * @example study("coldstore-doors").runs.finished.ids
     */
    readonly finished: RunSet<S>;
    /**
     * A row per run: whether it is `accepted`, the number that each rule looked at, and `because`.
     * @example study("coldstore-doors").runs.verdicts()
     */
    verdicts(): Table<{ run: Text; accepted: Text; because: Text } & Columns>;
    /** The same runs in the order of a parameter. @example runs.sort("doorOpen", "falling") */
    sort(parameter: Name<S["choices"]>, order?: "rising" | "falling"): RunSet<S>;
    /**
     * Something from each run. Do not change outer variables in the callback: runs are computed in any order.
     * @example runs.map((run) => run.table("monitors/hall.csv"))
     */
    map<T>(make: (run: Run<S>) => T): RunMap<T, S>;
    /**
     * One row per run.
     * @example runs.rows((run) => ({ fan: run.params.fan, peak: run.table("monitors/hall.csv").max("T_mean") }))
     */
    rows<R extends { [name: string]: Cell }>(make: (run: Run<S>) => R): Table<RowColumns<R>>;
  }

  type Cell = Quantity | number | string | boolean | null | undefined;
  type RowColumns<R> = { run: Text } & { [K in keyof R]: R[K] extends string ? Text : Numbers };

  /** What a callback gave for each run. */
  interface RunMap<out T, out S extends StudyShape = StudyShape> {
    /** The runs that are in it, in order. @example air.ids */
    readonly ids: string[];
    /** Something from what each run gave. @example air.map((t) => t.to("T_mean", "degC")) */
    map<U>(make: (value: T, run: Run<S>) => U): RunMap<U, S>;
    /** One row per run. @example air.rows((t, run) => ({ fan: run.params.fan, peak: t.max("T_mean") })) */
    rows<R extends { [name: string]: Cell }>(make: (value: T, run: Run<S>) => R): Table<RowColumns<R>>;
    /**
     * All tables one below the other, with a column for the run and one for each parameter.
     * @example air.map((t) => t.pick("T_mean")).stack()
     */
    stack(): Table<(T extends Table<infer C> ? C : Columns) & { run: Text } & Columns>;
    /** One column per run, at every axis value that any run has. @example air.wide("T_mean") */
    wide(name: T extends Table<infer C> ? NumberName<C> : string): Table<Columns>;
    /** What one run gave. @example air.get("075_080_none") */
    get(id: string): T;
  }

  /** A folder of results. */
  interface Study<out S extends StudyShape = StudyShape> {
    /** The name under which it is registered. */
    readonly name: string;
    /** All its runs, by id. @example study("coldstore-doors").runs */
    readonly runs: RunSet<S>;
    /** A table beside the runs. @example study("coldstore-doors").table("measured/loggers.csv") */
    table<F extends Name<S["beside"]>>(
      file: F,
      options?: ReadOptions,
    ): Table<F extends keyof S["beside"] ? S["beside"][F] : Columns>;
  }

  /**
   * A study by the name under which it is registered or given on the command line.
   * @example study("coldstore-doors").runs
   */
  export function study<N extends Names<Studies>>(name: N): Study<Shaped<Studies[N]>>;

  type BandColumns<C> = {
    [K in `${NumberNames<C>}.${"mean" | "std" | "min" | "max" | "n" | "lower" | "upper" | `p${number}`}`]: Numbers;
  } & { [K in `${NumberNames<C>}.${"minRun" | "maxRun"}`]: Text } & {
    [K in "time" | "x" | "y" | "z" | "iteration"]: Numbers;
  } & C;

  /**
   * Statistics across runs on a common axis: for each column `.mean`, `.std` (n−1), `.min`, `.max`, `.n` and the
   * percentiles asked for (`.p5`); with `confidence` the ends of the mean's interval, `.lower` and `.upper`; with `governing` the runs that
   * have the extremes, `.minRun` and `.maxRun`. The axis is the union of the runs' axis values unless said otherwise.
   * @example across(air, { on: "time", percentiles: [5, 95] })
   */
  export function across<C, S extends StudyShape>(
    runs: RunMap<Table<C>, S>,
    options?: {
      on?: NumberName<C>;
      columns?: NumberName<C>[];
      axis?: "union" | "intersection" | { step: Amount };
      percentiles?: number[];
      confidence?: number;
      governing?: boolean;
    },
  ): Table<BandColumns<C>>;

  type GroupStatistic = "count" | "mean" | "std" | "min" | "max" | "sum" | "median";

  /** How a column agrees with a reference; `emit.table` takes it whole. Each point of the reference counts alike. */
  interface Agreement {}

  type LawName =
    | "profile.plates"
    | "profile.pipe"
    | "profile.power"
    | "wall.sublayer"
    | "wall.logarithmic"
    | "wall.composite"
    | "friction.laminar plates"
    | "friction.laminar pipe"
    | "friction.smooth"
    | "friction.smooth implicit"
    | "friction.rough"
    | "friction.rough implicit"
    | "heat.laminar plates"
    | "heat.laminar pipe"
    | "heat.turbulent"
    | "heat.turbulent by friction"
    | "heat.laminar plate"
    | "heat.cylinder"
    | "heat.vertical plate"
    | "air.density"
    | "air.viscosity"
    | "air.conductivity"
    | "air.temperature at height"
    | "air.pressure at height"
    | "water.density"
    | "water.viscosity"
    | "water.vapour pressure";

  /**
   * A published law. Its source stands in the outputs' notes; outside of its range it gives a blank with the reason,
   * unless `outside: "keep"`.
   */
  interface Law {}
  /**
   * A law of flow, heat transfer or matter, by name; docs/script-library.md lists them with sources, inputs and
   * ranges.
   * @example law("heat.turbulent").at({ Re: 30000, Pr: 7 })
   */
  export function law(name: LawName): Law;

  interface FitOptions<C> {
    /** The column that the law gives. */
    y: NumberName<C>;
    /** The column or columns that it depends on. */
    x: NumberName<C> | NumberName<C>[];
    /** A column of weights, in inverse variance. */
    weights?: NumberName<C>;
    /** Of the intervals and bands: 0.95 unless said otherwise. */
    confidence?: number;
  }

  /** A law fitted to a table by least squares. What was done is noted in its tables. */
  interface Fit<T extends string = string> {}
  /** Kinds of fits, each of a table. */
  interface Fits {}
  export const fit: Fits;

  type MarkAt = Amount | [Amount, Amount];
  /** A limit or a region that is not data: at `x`, at `y`, or on the right axis; a pair is a region. */
  interface Mark {
    x?: MarkAt;
    y?: MarkAt;
    right?: MarkAt;
    /** What is written beside it. */
    text?: string;
  }

  interface ChartOptions {
    /** `_{…}` lowers, `^{…}` raises. */
    title?: string;
    /** A second, smaller line under the title. */
    subtitle?: string;
    /** The title of the axis along the bottom; its unit is added. */
    xTitle?: string;
    /** The title of the axis at the left. */
    yTitle?: string;
    /** The title of the axis at the right. */
    rightTitle?: string;
    /** Even or logarithmic steps along the bottom. */
    xScale?: "linear" | "log";
    /** Even or logarithmic steps at the left. */
    yScale?: "linear" | "log";
    /** Even or logarithmic steps at the right. */
    rightScale?: "linear" | "log";
    /** From where to where along the bottom; bare numbers are in the axis's unit. */
    xRange?: [Amount, Amount];
    /** From where to where at the left. */
    yRange?: [Amount, Amount];
    /** From where to where at the right. */
    rightRange?: [Amount, Amount];
    /** Larger values at the left. */
    xReversed?: boolean;
    /** Larger values at the bottom. */
    yReversed?: boolean;
    /** Significant digits of the numbers along the bottom. */
    xDigits?: number;
    /** Significant digits of the numbers at the left. */
    yDigits?: number;
    /** Significant digits of the numbers at the right. */
    rightDigits?: number;
    /** Limits and regions. */
    marks?: Mark[];
    /**
     * Where the legend stands: over the axes, at their right, in their emptiest corner, or as names at the ends of the
     * lines.
     */
    legend?: "top" | "right" | "inside" | "ends" | "none";
    /** `print` is black on white, for paper. */
    theme?: "screen" | "print";
    /**
     * One small chart for each value of a parameter (or of a table's column), on the same axes; or one for each of the
     * `"quantities"`.
     */
    panels?: string;
    /** How many of them stand side by side. */
    columns?: number;
    /** Width and height of the files, in pixels of 1/96 inch or as lengths: `["160 mm", "90 mm"]`. */
    size?: [number | string | Quantity, number | string | Quantity];
    /** Dots an inch of PNG files; 192 when not given. */
    resolution?: number;
  }
  interface SeriesOptions<C, P> extends ChartOptions {
    /** The column along the bottom; the table's axis when not given. */
    x?: Name<C>;
    /** The column or columns to draw. Those of another kind of quantity take the right axis. */
    y?: NumberName<C> | NumberName<C>[];
    /** Columns on a second axis at the right. */
    right?: NumberName<C> | NumberName<C>[];
    /**
     * A parameter (of one table, a column) that sets the colour: sequential colours for numbers, categorical ones for
     * text.
     */
    color?: P;
    /** Sequential or categorical colours, whatever the parameter is. */
    colors?: "sequential" | "categorical";
    /** A parameter that sets the dash, and the marker with it. */
    dash?: P;
    /** A parameter that sets the marker. */
    marker?: P;
    /** The text in the legend. */
    name?: string;
    /** Thin and pale, behind the rest. */
    faint?: boolean;
    /** The axis upwards and the values along the bottom, as for profiles over height. */
    swapAxes?: boolean;
    /** Writes the lowest or highest values at their points; of twelve at most. */
    extremes?: "min" | "max" | "both";
  }

  /** A chart, for `emit.chart` or `chart.layers`. */
  interface Chart {
    readonly chart: true;
  }

  export const chart: Charts;
  /** Charts, made here and handed to `emit.chart`. Most are declared where they are defined. */
  interface Charts {
    /**
     * Charts on the same axes.
     * @example chart.layers([chart.lines(t, { x: "time", y: "T_mean" }), chart.points(t.resample("time", { step: "300 s" }), { x: "time", y: "T_max" })], { title: "Mean and hottest" })
     */
    layers(charts: Chart[], options?: ChartOptions): Chart;
  }

  type BlockColumns = { block: Text } & {
    [K in "dimension" | "cells" | "points" | "length" | "area" | "volume"]: Numbers;
  };
  type SurfaceColumns = { [K in "part" | "x" | "y" | "z" | "value"]: Numbers };
  interface PictureOptions {
    /** `_{…}` lowers, `^{…}` raises. */
    title?: string;
    /** A second, smaller line under the title. */
    subtitle?: string;
    /** What stands over each panel or frame; the runs' names when not given. */
    titles?: string[];
    /** How many panels stand side by side. */
    columns?: number;
    /**
     * From which value to which the colours go, the same in all panels; `"own"` gives each panel its own. All values
     * when not given.
     */
    range?: [Amount, Amount] | "own";
    /** So many even steps of colour instead of a smooth one. */
    steps?: number;
    /**
     * Where the eye stands, by name or as a direction from the middle; square to a plane, else isometric, when not
     * given.
     */
    camera?:
      | "fromX+"
      | "fromX-"
      | "fromY+"
      | "fromY-"
      | "fromZ+"
      | "fromZ-"
      | "isometric"
      | { from: [number, number, number]; up?: [number, number, number] };
    /** Lines of equal value with their labels: so many even levels, or these. */
    contours?: number | Amount[];
    /** Arrows of the view's vectors; drawn when there are vectors and no streamlines are asked for. */
    arrows?: boolean;
    /** Streamlines of the view's vectors within the plane. */
    streamlines?: boolean;
    /** The edges of what is cut, cell by cell. */
    mesh?: boolean;
    /** Sites to draw, by the names that stand beside them: points, lines, paths, grids. */
    sites?: { [name: string]: Site };
    /** Width and height of the files, in pixels of 1/96 inch or as lengths. */
    size?: [number | string | Quantity, number | string | Quantity];
    /** Dots an inch; 192 when not given. */
    resolution?: number;
  }

  /** A picture of fields, for `emit.picture`. */
  interface Picture {
    readonly picture: true;
  }

  export const picture: {
    /**
     * What views show, side by side: one, several, or one of each run, on one scale of colour.
     * @example picture.panels(hall.at("last").surface(at.plane({ y: 4 }), { color: "temperature" }), { title: "Hall air", contours: 6 })
     */
    panels(
      data: Table<SurfaceColumns> | Table<SurfaceColumns>[] | RunMap<Table<SurfaceColumns>, any>,
      options?: PictureOptions,
    ): Picture;
    /**
     * What views show, one after the other: as numbered PNG files, or as one that moves (APNG).
     * @example picture.frames([hall.at("first"), hall.at("last")].map((f) => f.surface(at.plane({ y: 4 }), { color: "temperature" })), { titles: ["first", "last"] })
     */
    frames(data: Table<SurfaceColumns>[] | RunMap<Table<SurfaceColumns>, any>, options?: PictureOptions): Picture;
  };

  interface Limits {
    /** The value has to be less than this. */
    below?: Amount;
    /** The value has to be more than this. */
    above?: Amount;
    /** The value has to lie in this range, ends included. */
    within?: [Amount, Amount];
    /** The value has to be this one exactly. */
    equal?: Amount;
    /** `allow`: judge by the runs that are there. Without it, a run that is left out makes the check undecided. */
    missing?: "allow";
    /**
     * `allow`: judge whatever is known of the files. Without it, a value made from a file that is cut off, has damaged rows or cells
     * that are not numbers makes the check undecided.
     */
    conditions?: "allow";
  }

  type TableFormat = "csv" | "tsv" | "semicolon" | "json" | "xlsx" | "parquet" | "md" | "tex" | "html" | "vtp" | "vtu";

  interface TableFileOptions {
    /** `semicolon` is CSV with a decimal comma; CSV alone unless said otherwise. */
    formats?: TableFormat[];
    /**
     * Significant digits in files for reading (six in `md`, `tex`, `html`); whole numbers are kept in the others when
     * not given.
     */
    digits?: number;
    /**
     * `stacked`: one file with all runs below each other; `wide`: a column per run; `each`: a file per run, in
     * workbooks a sheet per run.
     */
    layout?: "stacked" | "wide" | "each";
    /** Only these columns, in this order. */
    columns?: string[];
    /** Charts of this job, by the names under which they are emitted, as pictures on a sheet of the workbook. */
    charts?: string[];
    /**
     * Texts in `csv`, `tsv` and `semicolon` files that a spreadsheet would take for a formula (`=…`, `+…`, `-…`, `@…`) get an
     * apostrophe before them, so that they stay texts; `keep` writes them as they are.
     */
    formulas?: "text" | "keep";
  }

  export const emit: Outputs;
  interface ReportOptions {
    title?: string;
    subtitle?: string;
    /** Markdown. */
    notes?: string;
    /**
     * Markdown of the first page, with `{{title}}`, `{{subtitle}}`, `{{study}}`, `{{runs}}` and `{{script}}` filled
     * in.
     */
    cover?: string;
    /** Which outputs follow the notes; all that the notes do not show when not given. */
    outputs?: string[];
    /** The table of runs. */
    runs?: boolean;
    /** The text of the script at the end. */
    script?: boolean;
    formats?: ("html" | "pdf")[];
  }

  /** Names what is wanted. Nothing is computed that no `emit` asks for. Most are declared where they are defined. */
  interface Outputs {
    /**
     * How files are called: `{study}`, `{output}` and in names of single runs `{run}` and each parameter, in sequences `{frame}` and
     * `{time}`; and whether they lie flat, in a folder for each output, or in one for each run.
     * @example emit.naming({ file: "{study}-{output}", each: "{output}-fan-{fan}", folders: "output" })
     */
    naming(rule: { file?: string; each?: string; folders?: "flat" | "output" | "run" }): void;
  }

  /** A quantity. @example q("20 min") @example q(0.5, "K") */
  export function q(text: string): Quantity;
  export function q(value: number, unit: string): Quantity;

  /** A value that can be set from outside: `oxtrum run … --set limit="15 min"`. @example input("limit", q("20 min")) */
  export function input(name: string, fallback: Quantity): Quantity;
  export function input(name: string, fallback: number): number;
  export function input(name: string, fallback: string): string;
  export function input(name: string, fallback: boolean): boolean;
}
