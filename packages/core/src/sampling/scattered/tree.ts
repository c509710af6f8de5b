/** Points in boxes of nearly equal numbers, halved along their widest direction: finds those nearest to a place. */
export class PointTree {
  readonly #order: Int32Array;
  /** By node of the halving: which direction and where. Leaves have none. */
  readonly #axis: Int8Array;
  readonly #split: Float64Array;
  readonly #leaf: number;

  /** @param points x, y, z one after the other; those with a missing coordinate are left out */
  constructor(private readonly points: Float64Array) {
    const n = points.length / 3;
    const there: number[] = [];
    for (let i = 0; i < n; i++)
      if (Number.isFinite(points[3 * i]! + points[3 * i + 1]! + points[3 * i + 2]!)) there.push(i);
    this.#order = Int32Array.from(there);
    let levels = 0;
    while (this.#order.length >> levels > 12) levels++;
    this.#leaf = 2 ** levels - 1;
    this.#axis = new Int8Array(this.#leaf);
    this.#split = new Float64Array(this.#leaf);
    this.#build(0, 0, this.#order.length);
  }

  /** All points there are, near ones in sequence. */
  get order(): Int32Array {
    return this.#order;
  }

  get size(): number {
    return this.#order.length;
  }

  #build(node: number, from: number, to: number): void {
    if (node >= this.#leaf) return;
    const { points: p } = this;
    const low = [Infinity, Infinity, Infinity];
    const high = [-Infinity, -Infinity, -Infinity];
    for (let i = from; i < to; i++)
      for (let k = 0; k < 3; k++) {
        const v = p[3 * this.#order[i]! + k]!;
        if (v < low[k]!) low[k] = v;
        if (v > high[k]!) high[k] = v;
      }
    let axis = 0;
    for (let k = 1; k < 3; k++) if (high[k]! - low[k]! > high[axis]! - low[axis]!) axis = k;
    const part = this.#order.subarray(from, to);
    // By place, then by number: the order is the same for the same points.
    part.sort((a, b) => p[3 * a + axis]! - p[3 * b + axis]! || a - b);
    const middle = (from + to) >> 1;
    this.#axis[node] = axis;
    this.#split[node] = to > from ? p[3 * this.#order[middle]! + axis]! : 0;
    this.#build(2 * node + 1, from, middle);
    this.#build(2 * node + 2, middle, to);
  }

  /**
   * The `count` nearest points, nearest first (of equally near ones the lower number), with their squared distances.
   */
  nearest(x: number, y: number, z: number, count: number): { points: number[]; squares: number[] } {
    const points: number[] = [];
    const squares: number[] = [];
    const place = [x, y, z];
    const visit = (node: number, from: number, to: number): void => {
      if (node >= this.#leaf) {
        for (let i = from; i < to; i++) {
          const v = this.#order[i]!;
          const s =
            (this.points[3 * v]! - x) ** 2 + (this.points[3 * v + 1]! - y) ** 2 + (this.points[3 * v + 2]! - z) ** 2;
          let at = points.length;
          while (at > 0 && (squares[at - 1]! > s || (squares[at - 1]! === s && points[at - 1]! > v))) at--;
          if (at >= count) continue;
          points.splice(at, 0, v);
          squares.splice(at, 0, s);
          if (points.length > count) {
            points.pop();
            squares.pop();
          }
        }
        return;
      }
      const middle = (from + to) >> 1;
      const off = place[this.#axis[node]!]! - this.#split[node]!;
      const [near, far] = off < 0 ? [2 * node + 1, 2 * node + 2] : [2 * node + 2, 2 * node + 1];
      const [nf, nt, ff, ft] = off < 0 ? [from, middle, middle, to] : [middle, to, from, middle];
      visit(near, nf, nt);
      if (points.length < count || off * off <= squares[squares.length - 1]!) visit(far, ff, ft);
    };
    visit(0, 0, this.#order.length);
    return { points, squares };
  }
}
