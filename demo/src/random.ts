/** A small seeded generator (mulberry32): the same seed gives the same numbers on every machine. */
export function seeded(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Normally distributed numbers (Box & Muller 1958). */
export function normal(random: () => number): number {
  return Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}

const stages = (n: number): Record<"k1" | "k2" | "k3" | "k4" | "s", Float64Array> => ({
  k1: new Float64Array(n),
  k2: new Float64Array(n),
  k3: new Float64Array(n),
  k4: new Float64Array(n),
  s: new Float64Array(n),
});
/** Kept from step to step, of which there are hundreds of thousands. */
let scratch = stages(0);

/** A fourth-order Runge–Kutta step of dy/dt = f(t, y), in place. */
export function rungeKutta(
  f: (t: number, y: Float64Array, dy: Float64Array) => void,
  t: number,
  y: Float64Array,
  h: number,
): void {
  const n = y.length;
  if (scratch.s.length !== n) scratch = stages(n);
  const { k1, k2, k3, k4, s } = scratch;
  f(t, y, k1);
  for (let i = 0; i < n; i++) s[i] = y[i]! + 0.5 * h * k1[i]!;
  f(t + 0.5 * h, s, k2);
  for (let i = 0; i < n; i++) s[i] = y[i]! + 0.5 * h * k2[i]!;
  f(t + 0.5 * h, s, k3);
  for (let i = 0; i < n; i++) s[i] = y[i]! + h * k3[i]!;
  f(t + h, s, k4);
  for (let i = 0; i < n; i++) y[i]! += (h / 6) * (k1[i]! + 2 * k2[i]! + 2 * k3[i]! + k4[i]!);
}
