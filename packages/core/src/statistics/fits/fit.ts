import { evaluateFormula } from "../../tables/formula.js";
import { formulaNames, type FormulaTree } from "../../tables/formula-tree.js";
import {
  makeTable,
  numberColumn,
  numbers,
  numbersOf,
  TableError,
  textColumn,
  type NumberColumn,
  type Table,
  type UnitSymbol,
} from "../../tables/table.js";
import { displayUnit, divideUnits, parseUnit, plainUnit, powerUnit, stepOf } from "../../tables/units.js";
import { leastSquares, type Solution } from "./least-squares.js";
import { nonlinearLeastSquares, slopesOf, type Bound } from "./nonlinear.js";
import { incompleteBeta, studentQuantile } from "./student.js";

/** What is fitted to which columns. */
export interface FitRequest {
  readonly kind: "linear" | "polynomial" | "power" | "exponential" | "formula";
  readonly y: string;
  readonly x: readonly string[];
  readonly degree?: number | undefined;
  /** Of linear fits: with a constant, unless it says not. */
  readonly intercept?: boolean | undefined;
  readonly formula?: FormulaTree | undefined;
  /** Constants of a formula, with values to start from. */
  readonly start?: Readonly<Record<string, number>> | undefined;
  readonly bounds?: Readonly<Record<string, Bound>> | undefined;
  /** A column of weights, in inverse variance. */
  readonly weights?: string | undefined;
  /** Of the intervals: 0.95 unless it says otherwise. */
  readonly confidence?: number | undefined;
}

export interface Term {
  readonly name: string;
  readonly value: number;
  readonly error: number;
  readonly lower: number;
  readonly upper: number;
  readonly unit: UnitSymbol;
  /** Of the error: K for a constant in °C or °F. */
  readonly errorUnit: UnitSymbol;
  /** The two-sided p-value of Student's t against 0; NaN for factors that are fitted as logarithms. */
  readonly pValue: number;
}

export interface Fit {
  readonly terms: readonly Term[];
  readonly points: number;
  readonly freedom: number;
  readonly rSquared: number;
  readonly adjusted: number;
  /** Standard deviation of the residuals; of logarithms where the fit was made in these. */
  readonly residual: number;
  readonly residualUnit: UnitSymbol;
  readonly notes: readonly string[];
  /** From where to where each x was fitted. */
  readonly ranges: readonly (readonly [number, number])[];
  /** The fitted value and, at the confidence asked for, the band in which a new point lies. */
  at(x: readonly number[]): { readonly value: number; readonly lower: number; readonly upper: number };
}

const quotient = (a: UnitSymbol, b: UnitSymbol): UnitSymbol =>
  a === null || b === null ? null : divideUnits(parseUnit(a), parseUnit(b)).symbol;
/** The unit of a change: slopes of temperatures are in K per …. */
const change = (unit: UnitSymbol): UnitSymbol => stepOf(unit).unit;
/** A logarithm of °C or °F depends on the scale. @throws TableError */
function refuseOwnZero(kind: string, name: string, unit: UnitSymbol): void {
  if (stepOf(unit).ownZero)
    throw new TableError(
      `a ${kind} fit takes the logarithm of "${name}" in ${displayUnit(unit)}, which depends on the ` +
        `scale: convert it to K first, with .to("${name}", "K")`,
    );
}
const raised = (a: UnitSymbol, n: number): UnitSymbol => (a === null ? null : powerUnit(parseUnit(a), n).symbol);

/** Rows with all their values, with a logarithm where one is taken, and with a weight; what is lost is noted. */
function usableRows(
  table: Table,
  needed: readonly NumberColumn[],
  logarithms: readonly NumberColumn[],
  weights: NumberColumn | undefined,
  notes: string[],
): number[] {
  const rows: number[] = [];
  const lost = { missing: 0, logarithm: 0 };
  for (let i = 0; i < table.rows; i++) {
    if (!needed.every((c) => Number.isFinite(c.values[i]!))) lost.missing++;
    else if (logarithms.some((c) => !(c.values[i]! > 0))) lost.logarithm++;
    else if (!weights || weights.values[i]! > 0) rows.push(i);
  }
  if (lost.missing > 0) notes.push(`${lost.missing} of ${table.rows} rows with a missing value are left out`);
  if (lost.logarithm > 0)
    notes.push(`${lost.logarithm} of ${table.rows} rows are not above zero, have no logarithm, and are left out`);
  return rows;
}

/** Constants with their standard errors, the ends of their intervals (Student's t) and their p-values. */
function termsOf(model: Model, solution: Solution, variance: number, t: number, freedom: number): Term[] {
  return solution.coefficients.map((raw, k): Term => {
    const error = Math.sqrt(variance * solution.spread[k]![k]!);
    const exp = model.exponential[k]!;
    const scale = model.scales?.[k] ?? 1;
    const value = exp ? Math.exp(raw) : raw * scale;
    const [lower, upper] = [raw - t * error, raw + t * error].map((v) => (exp ? Math.exp(v) : v * scale)) as [
      number,
      number,
    ];
    const unit = model.units[k]!;
    const of = stepOf(unit);
    const pValue = exp ? Number.NaN : incompleteBeta(freedom / (freedom + (raw / error) ** 2), freedom / 2, 0.5);
    return {
      name: model.names[k]!,
      value,
      error: (exp ? value * error : error * Math.abs(scale)) * of.factor,
      lower,
      upper,
      unit,
      errorUnit: of.unit,
      pValue,
    };
  });
}

/** The part of a y's scatter that a fit explains: R². */
function explained(Y: Float64Array, weights: Float64Array | undefined, squares: number, constant: boolean): number {
  const weightOf = (i: number): number => (weights ? weights[i]! : 1);
  const total = Y.reduce((s, _, i) => s + weightOf(i), 0);
  const mean = constant ? Y.reduce((s, v, i) => s + weightOf(i) * v, 0) / total : 0;
  const about = Y.reduce((s, v, i) => s + weightOf(i) * (v - mean) ** 2, 0);
  // Of a y that does not change but for rounding there is nothing to explain.
  const size = Y.reduce((s, v, i) => s + weightOf(i) * v * v, 0);
  return about > 1e-26 * size ? 1 - squares / about : Number.NaN;
}

function rangeOf(values: Float64Array, rows: readonly number[]): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (const i of rows) {
    low = Math.min(low, values[i]!);
    high = Math.max(high, values[i]!);
  }
  return [low, high];
}

/**
 * Fits a law to columns of a table by least squares.
 *
 * `power` (y = C x₁ⁿ¹ x₂ⁿ² …) and `exponential` (y = A exp(k x)) are fitted to logarithms, which assumes that the
 * scatter is a share of the value. Errors are standard errors; intervals are Student's t at the confidence asked for;
 * R² of a fit without a constant is about zero. Rows with a missing value, or without a logarithm, are left out and
 * counted. Sources: N. Draper, H. Smith, "Applied Regression Analysis"; D. Bates, D. Watts, "Nonlinear Regression
 * Analysis".
 *
 * @throws TableError for too few points, constant x, or terms that depend on each other
 * @example fit(table, { kind: "power", y: "Nu", x: ["Re", "Pr"] }).terms // C, Re, Pr
 */
export function fit(table: Table, request: FitRequest): Fit {
  const { kind, y: yName, x: xNames } = request;
  const y = numbers(table, yName);
  const xs = xNames.map((n) => numbers(table, n));
  const w = request.weights === undefined ? undefined : numbers(table, request.weights);
  const logY = kind === "power" || kind === "exponential";
  const logX = kind === "power";
  if (logY) refuseOwnZero(kind, yName, y.unit);
  if (logX) xs.forEach((c) => refuseOwnZero(kind, c.name, c.unit));
  const step = stepOf(y.unit);
  const notes: string[] = [];
  const rows = usableRows(table, [y, ...xs, ...(w ? [w] : [])], logY ? [y, ...(logX ? xs : [])] : [], w, notes);
  if (logY) notes.push("fitted to logarithms");
  const weights = w && Float64Array.from(rows, (i) => w.values[i]!);
  if (weights) notes.push(`weighted by "${request.weights}"`);
  const confidence = request.confidence ?? 0.95;
  const Y = Float64Array.from(rows, (i) => (logY ? Math.log(y.values[i]!) : y.values[i]!));
  const X = rows.map((i) => xs.map((c) => c.values[i]!));
  const model = modelOf(
    request,
    yName,
    y.unit,
    xNames,
    xs.map((c) => c.unit),
  );
  const p = model.names.length;
  const freedom = rows.length - p;
  refuseTooLittle(rows, p, xNames, xs);
  let solution: Solution;
  try {
    solution = model.solve(X, Y, weights);
  } catch (e) {
    throw new TableError(`${kind} fit of "${yName}": ${(e as Error).message}`);
  }
  const variance = solution.squares / freedom;
  const t = studentQuantile((1 + confidence) / 2, freedom);
  const terms = termsOf(model, solution, variance, t, freedom);
  const rSquared = explained(Y, weights, solution.squares, model.constant);
  const adjusted = 1 - ((1 - rSquared) * (rows.length - (model.constant ? 1 : 0))) / freedom;
  if (kind === "formula") notes.push("nonlinear: errors and bands are those of the formula's slopes at the solution");
  return {
    terms,
    points: rows.length,
    freedom,
    rSquared,
    adjusted,
    residual: Math.sqrt(variance) * (logY ? 1 : step.factor),
    residualUnit: logY ? "1" : step.unit,
    notes,
    ranges: xs.map((c) => rangeOf(c.values, rows)),
    at: (x) => {
      const { value, half } = predicted(model, solution, x, variance);
      const own = (u: number): number => (logY ? Math.exp(u) : u);
      return { value: own(value), lower: own(value - t * half), upper: own(value + t * half) };
    },
  };
}

/** Refuses points that are too few for a number of constants, or all at one place. @throws TableError */
function refuseTooLittle(
  rows: readonly number[],
  constants: number,
  names: readonly string[],
  xs: readonly NumberColumn[],
): void {
  const n = rows.length;
  if (n <= constants)
    throw new TableError(
      `a fit of ${constants} constants needs more than ${constants} points; there ${n === 1 ? "is" : "are"} ${n}`,
    );
  xs.forEach((c, k) => {
    if (rows.every((i) => c.values[i] === c.values[rows[0]!]))
      throw new TableError(`"${names[k]!}" is the same at all ${n} points: nothing can be fitted over it`);
  });
}

/** The fitted value at a place, and the standard error of a further observation there. */
function predicted(
  model: Model,
  { coefficients, spread }: Solution,
  x: readonly number[],
  variance: number,
): { value: number; half: number } {
  const { value, slopes } = model.evaluate(coefficients, x);
  let sum = 1;
  slopes.forEach((a, i) => slopes.forEach((b, j) => (sum += a * b * spread[i]![j]!)));
  return { value, half: Math.sqrt(variance * sum) };
}

interface Model {
  readonly names: readonly string[];
  readonly units: readonly UnitSymbol[];
  /** What turns coefficients into these units, where steps of the columns' scales are other ones. */
  readonly scales?: readonly number[];
  /** Which coefficients are logarithms of what is told. */
  readonly exponential: readonly boolean[];
  /** Whether it holds a constant, so that R² is about the mean. */
  readonly constant: boolean;
  solve(x: readonly (readonly number[])[], y: Float64Array, weights: Float64Array | undefined): Solution;
  evaluate(coefficients: readonly number[], x: readonly number[]): { value: number; slopes: readonly number[] };
}

function modelOf(
  r: FitRequest,
  yName: string,
  y: UnitSymbol,
  names: readonly string[],
  x: readonly UnitSymbol[],
): Model {
  if (r.kind === "formula") return formulaModel(r, names);
  const linear = (terms: (x: readonly number[]) => number[], rest: Omit<Model, "solve" | "evaluate">): Model => ({
    ...rest,
    solve: (X, Y, w) => leastSquares(X.map(terms), Y, w),
    evaluate: (c, at) => {
      const slopes = terms(at);
      return { value: slopes.reduce((s, v, k) => s + v * c[k]!, 0), slopes };
    },
  });
  if (r.kind === "power") {
    const dimensionless = [y, ...x].every((u) => u === "1");
    return linear((v) => [1, ...v.map(Math.log)], {
      names: ["C", ...names],
      units: [dimensionless ? "1" : null, ...names.map(() => "1" as const)],
      exponential: [true, ...names.map(() => false)],
      constant: true,
    });
  }
  const [fy, fx] = [stepOf(y).factor, x.map((u) => stepOf(u).factor)];
  if (names.length !== 1 && r.kind !== "linear") throw new TableError(`a ${r.kind} fit has one x`);
  if (r.kind === "exponential")
    return linear((v) => [1, v[0]!], {
      names: ["A", "k"],
      units: [y, raised(change(x[0]!), -1)],
      scales: [1, 1 / fx[0]!],
      exponential: [true, false],
      constant: true,
    });
  if (r.kind === "polynomial") {
    const n = r.degree ?? 2;
    if (!(Number.isInteger(n) && n >= 1 && n <= 12))
      throw new TableError(`degree ${n}: a polynomial fit has a degree of 1 to 12`);
    const powers = Array.from({ length: n + 1 }, (_, k) => k);
    return linear((v) => powers.map((k) => v[0]! ** k), {
      names: powers.map((k) => `c${k}`),
      units: powers.map((k) => (k === 0 ? y : quotient(change(y), raised(change(x[0]!), k)))),
      scales: powers.map((k) => (k === 0 ? 1 : fy / fx[0]! ** k)),
      exponential: powers.map(() => false),
      constant: true,
    });
  }
  const constant = r.intercept !== false;
  const units = names.map((_, k) => quotient(change(y), change(x[k]!)));
  return linear((v) => (constant ? [1, ...v] : [...v]), {
    names: constant ? ["constant", ...names] : names,
    units: constant ? [y, ...units] : units,
    scales: [...(constant ? [1] : []), ...names.map((_, k) => fy / fx[k]!)],
    exponential: [...names, ...(constant ? [yName] : [])].map(() => false),
    constant,
  });
}

function formulaModel(r: FitRequest, names: readonly string[]): Model {
  const tree = r.formula!;
  const constants = Object.keys(r.start ?? {});
  for (const n of formulaNames(tree))
    if (!constants.includes(n) && !names.includes(n))
      throw new TableError(`"${n}" in the formula is neither an x nor a constant: give it a value to start from`);
  if (constants.length === 0) throw new TableError("a fit of a formula needs constants with values to start from");
  const values = (c: readonly number[], X: readonly (readonly number[])[]): Float64Array => {
    const table = makeTable(names.map((n, k) => numbersOf(X, n, "1", (row) => row[k]!)));
    const given = Object.fromEntries(constants.map((n, k) => [n, { value: c[k]!, unit: "1" as const }]));
    return evaluateFormula(tree, table, given).values;
  };
  return {
    names: constants,
    units: constants.map(() => null),
    exponential: constants.map(() => false),
    constant: true,
    solve: (X, Y, w) =>
      nonlinearLeastSquares(
        (c) => values(c, X),
        Y,
        constants.map((n) => r.start![n]!),
        constants.map((n) => r.bounds?.[n] ?? {}),
        w,
      ),
    evaluate: (c, at) => ({ value: values(c, [at])[0]!, slopes: slopesOf((k) => values(k, [at]), c)[0]! }),
  };
}

const say = (v: number): string => String(Number(v.toPrecision(6)));

/** A fitted law in words, as in `Nu = 0.0231 Re^0.798 Pr^0.4`. */
export function lawText(f: Fit, r: FitRequest): string {
  const c = f.terms.map((t) => say(t.value));
  const x = r.x;
  const sum = (parts: readonly string[]): string => parts.join(" + ").replaceAll("+ -", "− ");
  if (r.kind === "power") return `${r.y} = ${c[0]!} ${x.map((n, k) => `${n}^${c[k + 1]!}`).join(" ")}`;
  if (r.kind === "exponential") return `${r.y} = ${c[0]!} exp(${c[1]!} ${x[0]!})`;
  if (r.kind === "polynomial")
    return `${r.y} = ${sum(c.map((v, k) => (k === 0 ? v : `${v} ${x[0]!}${k > 1 ? `^${k}` : ""}`)))}`;
  if (r.kind === "linear")
    return `${r.y} = ${sum(f.terms.map((t, k) => (t.name === "constant" ? c[k]! : `${c[k]!} ${t.name}`)))}`;
  return `${r.y} by the formula with ${f.terms.map((t, k) => `${t.name} = ${c[k]!}`).join(", ")}`;
}

/**
 * A fit as a table: a row a constant, with its standard error and interval; the law and the rest stand in the notes.
 */
export function fitTable(f: Fit, confidence: number, request: FitRequest): Table {
  return makeTable(
    [
      textColumn(
        "term",
        f.terms.map((t) => t.name),
      ),
      numberColumn(
        "value",
        null,
        f.terms.map((t) => t.value),
      ),
      numberColumn(
        "error",
        null,
        f.terms.map((t) => t.error),
      ),
      numberColumn(
        "lower",
        null,
        f.terms.map((t) => t.lower),
      ),
      numberColumn(
        "upper",
        null,
        f.terms.map((t) => t.upper),
      ),
      numberColumn(
        "pValue",
        "1",
        f.terms.map((t) => t.pValue),
      ),
      textColumn(
        "unit",
        f.terms.map((t) => plainUnit(t.unit) ?? ""),
      ),
    ],
    {
      notes: [
        lawText(f, request),
        ...f.notes,
        ...(f.terms.some((t) => t.errorUnit !== t.unit) ? ["errors of temperatures in K"] : []),
        `${f.points} points, ${f.freedom} degrees of freedom, ` +
          `${f.rSquared === f.rSquared ? `R² ${say(f.rSquared)}, adjusted ${say(f.adjusted)}` : "no R², as y does not change"}, ` +
          "residual std " +
          `${say(f.residual)}${f.residualUnit === null || f.residualUnit === "1" ? "" : ` ${displayUnit(f.residualUnit)}`}, ` +
          `intervals at ${say(100 * confidence)} %`,
        `fitted over ${f.ranges.map(([a, b]) => `${say(a)} to ${say(b)}`).join(", ")}`,
      ],
    },
  );
}

/** The names of a fit's constants, known before there are any points. */
export function fitTerms(r: FitRequest): string[] {
  if (r.kind === "formula") return Object.keys(r.start ?? {});
  if (r.kind === "power") return ["C", ...r.x];
  if (r.kind === "exponential") return ["A", "k"];
  if (r.kind === "polynomial") return Array.from({ length: (r.degree ?? 2) + 1 }, (_, k) => `c${k}`);
  return r.intercept === false ? [...r.x] : ["constant", ...r.x];
}

/**
 * The fitted law over its own range, evenly (over logarithms for a power law): x, `y.fit` and the band `y.lower`,
 * `y.upper`.
 */
export function fitCurve(table: Table, request: FitRequest, f: Fit, points: number): Table {
  const [name] = request.x;
  if (request.x.length !== 1) throw new TableError("a curve is drawn over one x; use .applied() for several");
  const [from, to] = f.ranges[0]!;
  const log = request.kind === "power";
  const x = Array.from({ length: points }, (_, i) => {
    const t = points === 1 ? 0 : i / (points - 1);
    return log ? from * (to / from) ** t : from + t * (to - from);
  });
  const at = x.map((v) => f.at([v]));
  const unit = numbers(table, request.y).unit;
  return makeTable(
    [
      numberColumn(name!, numbers(table, name!).unit, x),
      numbersOf(at, `${request.y}.fit`, unit, (a) => a.value),
      numbersOf(at, `${request.y}.lower`, unit, (a) => a.lower),
      numbersOf(at, `${request.y}.upper`, unit, (a) => a.upper),
    ],
    { axis: name, notes: f.notes },
  );
}

/** The table with what the law gives for each row, and what is left: `y.fit`, `y.residual`. */
export function fitApplied(table: Table, request: FitRequest, f: Fit): Table {
  const y = numbers(table, request.y);
  const xs = request.x.map((n) => numbers(table, n).values);
  const fitted = Float64Array.from(y.values, (_, i) => f.at(xs.map((v) => v[i]!)).value);
  const { unit, factor } = stepOf(y.unit);
  const left = y.values.map((v, i) => (v - fitted[i]!) * factor);
  return {
    ...table,
    columns: [
      ...table.columns.filter((c) => c.name !== `${request.y}.fit` && c.name !== `${request.y}.residual`),
      numberColumn(`${request.y}.fit`, y.unit, fitted),
      numberColumn(`${request.y}.residual`, unit, left),
    ],
    notes: [...table.notes, ...f.notes],
  };
}
