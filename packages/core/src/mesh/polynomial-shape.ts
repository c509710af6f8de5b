import { solve } from "../tables/linear-system.js";

/** A polynomial in three local coordinates: terms of a factor and three powers. */
export type Polynomial = readonly (readonly [factor: number, a: number, b: number, c: number])[];

/** The polynomial rᵃ sᵇ tᶜ. */
export const term = (a: number, b: number, c: number): Polynomial => [[1, a, b, c]];

const power = (x: number, n: number): number => (n === 0 ? 1 : n === 1 ? x : x ** n);
const valueOf = (p: Polynomial, r: number, s: number, t: number): number =>
  p.reduce((m, [f, a, b, c]) => m + f * power(r, a) * power(s, b) * power(t, c), 0);

/** The inverse of a small matrix. @throws Error when it has none */
function inverse(m: readonly (readonly number[])[]): number[][] {
  const columns = m.map((_, k) =>
    solve(
      m,
      m.map((__, i) => (i === k ? 1 : 0)),
    ),
  );
  if (columns.some((c) => c === undefined)) throw new Error("these nodes cannot hold these polynomials");
  return m.map((_, i) => columns.map((c) => c![i]!));
}

/**
 * The shape functions of a cell from its nodes and the polynomials that it holds: each function is 1 at its own node
 * and 0 at all others (O. C. Zienkiewicz, R. L. Taylor, "The Finite Element Method", vol. 1, ch. 8). Made at first use.
 *
 * @param nodes local coordinates of the nodes, in the order in which files list them
 * @param terms as many polynomials as there are nodes
 */
export function shapeThrough(
  nodes: readonly (readonly number[])[],
  terms: readonly Polynomial[],
): (r: number, s: number, t: number, n: Float64Array, d: Float64Array) => void {
  let share: number[][] | undefined;
  const slopes = terms.map((p) =>
    [1, 2, 3].map((k): Polynomial =>
      p.flatMap((q) => {
        const e = [...q] as [number, number, number, number];
        if (e[k] === 0) return [];
        e[0] *= e[k]!;
        e[k]!--;
        return [e];
      }),
    ),
  );
  return (r, s, t, n, d) => {
    share ??= inverse(nodes.map(([x, y, z]) => terms.map((p) => valueOf(p, x!, y!, Math.max(0, z!)))));
    const values = terms.map((p) => valueOf(p, r, s, t));
    const by = slopes.map((three) => three.map((p) => valueOf(p, r, s, t)));
    for (let i = 0; i < nodes.length; i++) {
      let sum = 0;
      let [x, y, z] = [0, 0, 0];
      for (let k = 0; k < terms.length; k++) {
        const w = share[k]![i]!;
        sum += w * values[k]!;
        x += w * by[k]![0]!;
        y += w * by[k]![1]!;
        z += w * by[k]![2]!;
      }
      n[i] = sum;
      d[3 * i] = x;
      d[3 * i + 1] = y;
      d[3 * i + 2] = z;
    }
  };
}
