/** One flow through the passage between two plates of the glycol cooler. */
export interface PassageCase {
  readonly id: string;
  readonly regime: "laminar" | "turbulent";
  /** By the hydraulic diameter, twice the gap: the same all along the passage. */
  readonly Re: number;
  /** Share of glycol, %. */
  readonly glycol: 30 | 40 | 50;
  readonly mesh: "coarse" | "medium" | "fine";
  /** How the wall is treated: the mesh goes down to it, or a wall law bridges its layer. */
  readonly wall: "resolved" | "bridged";
}

/** Kinematic viscosity m²/s, density kg/m³, heat capacity J/(kg K), conductivity W/(m K). */
export const mixtures = {
  30: { nu: 3.6e-6, rho: 1048, cp: 3680, k: 0.46 },
  40: { nu: 5.5e-6, rho: 1062, cp: 3480, k: 0.43 },
  50: { nu: 9.0e-6, rho: 1075, cp: 3280, k: 0.4 },
} as const;

/** Cells along and across; where a wall law bridges the layer at the wall, that layer is one cell. */
export function cellsOf(c: Pick<PassageCase, "mesh" | "wall">): readonly [number, number] {
  const n = { coarse: 1, medium: 2, fine: 4 }[c.mesh];
  return [60 * n, (c.wall === "bridged" ? 6 : 16) * n];
}
export const LENGTH = 0.6;
/** Where the plain inlet stretch ends. */
export const PLAIN = 0.2;
const GAP = 0.004;
export const T_IN = 271.15;
export const T_WALL = 263.15;
const KAPPA = 0.41;
const PR_T = 0.9;

/** The gap between the plates, m. */
export const gapAt = (x: number): number =>
  x <= PLAIN
    ? GAP
    : GAP * (1 + 0.125 * (1 - Math.cos((2 * Math.PI * (x - PLAIN)) / 0.1)) * (x < 0.55 ? 1 : (LENGTH - x) / 0.05));

export function passageCases(): PassageCase[] {
  const make = (
    regime: PassageCase["regime"],
    Re: number,
    glycol: PassageCase["glycol"],
    mesh: PassageCase["mesh"],
    wall: PassageCase["wall"],
  ): PassageCase => ({
    id: `${regime}_Re${String(Re).padStart(5, "0")}_g${glycol}_${mesh}_${wall}`,
    regime,
    Re,
    glycol,
    mesh,
    wall,
  });
  const all: PassageCase[] = [];
  for (const glycol of [30, 40, 50] as const) {
    for (const Re of [200, 400, 800]) all.push(make("laminar", Re, glycol, "fine", "resolved"));
    for (const Re of [5000, 10000, 20000])
      for (const wall of ["resolved", "bridged"] as const) all.push(make("turbulent", Re, glycol, "fine", wall));
  }
  for (const mesh of ["coarse", "medium"] as const) {
    all.push(make("laminar", 400, 40, mesh, "resolved"));
    for (const wall of ["resolved", "bridged"] as const) all.push(make("turbulent", 10000, 40, mesh, wall));
  }
  return all.sort((a, b) => (a.id < b.id ? -1 : 1));
}

/** What comes of a case: on lines across the gap at even steps along it. */
export interface Passage {
  readonly x: readonly number[];
  /** Across the gap, 0 at the lower plate to 1. */
  readonly eta: Float64Array;
  /** Velocity over its mean, the same all along. */
  readonly shape: Float64Array;
  /** By x, then across. */
  readonly T: readonly Float64Array[];
  readonly p: readonly number[];
  readonly wallShear: readonly number[];
  readonly heatFlux: readonly number[];
  readonly meanSpeed: readonly number[];
  readonly bulk: readonly number[];
}

/** Lines across the gap: even, or drawn together at the walls where the mesh goes down to them. */
function lines(c: PassageCase): Float64Array {
  const n = cellsOf(c)[1];
  const tight = c.regime === "turbulent" && c.wall === "resolved" ? 2.6 : 0;
  return Float64Array.from({ length: n + 1 }, (_, j) => {
    const s = (2 * j) / n - 1;
    return tight === 0 ? j / n : (1 + Math.tanh(tight * s) / Math.tanh(tight)) / 2;
  });
}

/** The profile in wall units for a friction Reynolds number (by the gap): mixing length with van Driest's damping. */
function profile(
  c: PassageCase,
  eta: Float64Array,
  reTau: number,
): { u: Float64Array; nut: Float64Array; mean: number } {
  const n = eta.length - 1;
  const u = new Float64Array(n + 1);
  const nut = new Float64Array(n);
  for (let j = 0; j < n / 2; j++) {
    const y = ((eta[j]! + eta[j + 1]!) / 2) * reTau;
    const step = (eta[j + 1]! - eta[j]!) * reTau;
    const shear = 1 - (2 * y) / reTau;
    const damped = c.wall === "bridged" ? 1 : 1 - Math.exp(-y / 26);
    const l = c.regime === "laminar" ? 0 : Math.min(KAPPA * y * damped, 0.09 * reTau);
    const slope = l === 0 ? shear : (-1 + Math.sqrt(1 + 4 * l * l * shear)) / (2 * l * l);
    nut[j] = l * l * slope;
    const first = c.wall === "bridged" && j === 0;
    u[j + 1] = first ? (step > 11 ? Math.log(step) / KAPPA + 5.2 : step) : u[j]! + slope * step;
    nut[n - 1 - j] = nut[j]!;
  }
  for (let j = 0; j < n / 2; j++) u[n - j] = u[j]!;
  let mean = 0;
  for (let j = 0; j < n; j++) mean += ((u[j]! + u[j + 1]!) / 2) * (eta[j + 1]! - eta[j]!);
  return { u, nut, mean };
}

/** Solves a case: the profile for its Reynolds number, then the temperature, marched along the passage. */
export function solvePassage(c: PassageCase): Passage {
  const m = mixtures[c.glycol];
  const eta = lines(c);
  let [low, high] = [1, 20000];
  for (let k = 0; k < 80; k++) {
    const middle = Math.sqrt(low * high);
    if (2 * middle * profile(c, eta, middle).mean < c.Re) low = middle;
    else high = middle;
  }
  const reTau = low;
  const { u, nut, mean } = profile(c, eta, reTau);
  const shape = u.map((v) => v / mean);
  const q = (c.Re * m.nu) / 2;
  const nx = cellsOf(c)[0];
  const x = Array.from({ length: nx + 1 }, (_, i) => (LENGTH * i) / nx);
  const wallShear = x.map((v) => m.rho * ((reTau * m.nu) / gapAt(v)) ** 2);
  const meanSpeed = x.map((v) => q / gapAt(v));
  const beta = weighted(eta, shape, shape);
  let pressure = 0;
  const p = x.map((v, i) => {
    if (i > 0) {
      const drop = (wallShear[i]! / gapAt(v) + wallShear[i - 1]! / gapAt(x[i - 1]!)) * (v - x[i - 1]!);
      pressure -= drop + beta * m.rho * 0.5 * (meanSpeed[i]! ** 2 - meanSpeed[i - 1]! ** 2);
    }
    return pressure;
  });
  const a = m.k / (m.rho * m.cp);
  const pr = m.nu / a;
  const T: Float64Array[] = [Float64Array.from(eta, (_, j) => (j === 0 || j === eta.length - 1 ? T_WALL : T_IN))];
  const heatFlux: number[] = [];
  for (let i = 0; i <= nx; i++) {
    const H = gapAt(x[i]!);
    // Conductance between neighbours, m/s; next to a bridged wall that of the wall law for heat (Jayatilleke 1969).
    const g = Float64Array.from(nut, (v, j) => (a + (v * m.nu) / PR_T) / (H * (eta[j + 1]! - eta[j]!)));
    const step = eta[1]! * reTau;
    if (c.regime === "turbulent" && c.wall === "bridged" && step > 11) {
      const r = pr / PR_T;
      const layer = 9.24 * (r ** 0.75 - 1) * (1 + 0.28 * Math.exp(-0.007 * r));
      g[0] = (reTau * m.nu) / H / (PR_T * (u[1]! + layer));
      g[g.length - 1] = g[0];
    }
    if (i > 0) T.push(marched(T[i - 1]!, g, eta, shape, q, x[i]! - x[i - 1]!));
    heatFlux.push(m.rho * m.cp * g[0]! * (T[i]![1]! - T[i]![0]!));
  }
  const bulk = T.map((t) => weighted(eta, shape, t));
  return { x, eta, shape, T, p, wallShear, heatFlux, meanSpeed, bulk };
}

/** ∫ a b dη by trapezoids. */
function weighted(eta: Float64Array, a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let j = 0; j + 1 < eta.length; j++)
    sum += ((a[j]! * b[j]! + a[j + 1]! * b[j + 1]!) / 2) * (eta[j + 1]! - eta[j]!);
  return sum;
}

/** One step along the passage, implicit: u ∂T/∂x = ∂φ/∂y with the walls' temperature held (Thomas' elimination). */
function marched(
  old: Float64Array,
  g: Float64Array,
  eta: Float64Array,
  shape: Float64Array,
  q: number,
  dx: number,
): Float64Array {
  const n = old.length;
  const [upper, right] = [new Float64Array(n), new Float64Array(n)];
  right[0] = T_WALL;
  for (let j = 1; j < n - 1; j++) {
    const width = (eta[j + 1]! - eta[j - 1]!) / 2;
    const inertia = (q * shape[j]! * width) / dx;
    const pivot = inertia + g[j - 1]! + g[j]! - g[j - 1]! * upper[j - 1]!;
    upper[j] = g[j]! / pivot;
    right[j] = (inertia * old[j]! + g[j - 1]! * right[j - 1]!) / pivot;
  }
  const T = new Float64Array(n);
  T[n - 1] = T_WALL;
  for (let j = n - 2; j >= 0; j--) T[j] = right[j]! + upper[j]! * T[j + 1]!;
  return T;
}
