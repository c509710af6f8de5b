import { insphere, orient3d } from "robust-predicates";
import { maybeStop } from "../../tables/interruption.js";
import { TableError } from "../../tables/table.js";

/** Of the predicates' signs, that of a tetrahedron counted as positive here, and that of a point inside its sphere. */
const SIGN = Math.sign(orient3d(0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1));
const INSIDE = Math.sign(insphere(0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0.25, 0.25, 0.25)) * SIGN;

/** The vertex that all faces of the hull are joined with: beyond it there is nothing. */
const BEYOND = -1;
/** Of the vertices of a tetrahedron, those of the face opposite to one; any order. */
const FACE = [
  [1, 2, 3],
  [0, 2, 3],
  [0, 1, 3],
  [0, 1, 2],
] as const;

/**
 * The Delaunay tetrahedra of points in space, one point after the other (A. Bowyer, D. Watson, The Computer Journal 24,
 * 1981), decided by exact predicates (J. Shewchuk, Discrete & Computational Geometry 18, 1997), so that grids, where
 * many points lie on one sphere, are not a special case. The hull's faces have neighbours too: tetrahedra with a vertex
 * beyond all points.
 */
export class Tetrahedra {
  /** Four vertices of each, positive in order; −1 is the vertex beyond. */
  readonly vertices: number[] = [];
  /** By vertex, the neighbour across the face opposite to it. */
  readonly neighbours: number[] = [];
  readonly #free: number[] = [];
  readonly #conflict: number[] = [];
  readonly #open = new OpenFaces();
  #round = 0;
  #last = 0;

  /**
   * @param at coordinates of the points, three each, all finite
   * @param first four points that do not lie in a plane
   * @param order in which the others follow; near ones in sequence are found fast
   */
  constructor(
    readonly at: Float64Array,
    first: readonly [number, number, number, number],
    order: Iterable<number>,
  ) {
    this.#begin(first);
    const used = new Set<number>(first);
    let n = 0;
    for (const p of order) {
      if (n++ % 512 === 0) maybeStop();
      if (!used.has(p)) this.#insert(p);
    }
  }

  /** Roughly what it holds. */
  get bytes(): number {
    return 16 * this.vertices.length;
  }

  /**
   * The tetrahedron around a place, with the weights of its vertices; undefined outside the hull.
   *
   * @param from where to begin looking: that of a place nearby
   */
  around(x: number, y: number, z: number, from = this.#last): { cell: number; weights: readonly number[] } | undefined {
    let cell = this.#walk(x, y, z, from);
    let outside = false;
    if (this.#beyondOf(cell) >= 0) {
      cell = this.neighbours[4 * cell + this.#beyondOf(cell)]!;
      outside = true;
    }
    this.#last = cell;
    const parts = [0, 1, 2, 3].map((k) => this.#turned(cell, k, x, y, z));
    const whole = parts.reduce((s, v) => s + v, 0);
    const weights = parts.map((v) => v / whole);
    // On the hull, rounding may put a place outside.
    if (outside && !weights.every((w) => w > -1e-9)) return undefined;
    return { cell, weights };
  }

  #begin(first: readonly [number, number, number, number]): void {
    const [, , c, d] = first;
    let [a, b] = first;
    const o = this.#orient(a, b, c, ...this.#place(d));
    if (o === 0) throw new RangeError("the first four points of a triangulation lie in a plane");
    if (o < 0) [a, b] = [b, a];
    this.vertices.push(a, b, c, d);
    this.neighbours.push(1, 2, 3, 4);
    for (let k = 0; k < 4; k++) {
      // The mirror image of the first one: its vertex k beyond, two others changed.
      const v = [a, b, c, d];
      v[k] = BEYOND;
      const [i, j] = FACE[k] as readonly [number, number, number];
      [v[i], v[j]] = [v[j]!, v[i]!];
      this.vertices.push(...v);
      for (let m = 0; m < 4; m++) {
        // Opposite to a vertex stands the neighbour that lacks it: that of its place in the first one.
        const vertex = v[m]!;
        this.neighbours.push(m === k ? 0 : 1 + [a, b, c, d].indexOf(vertex));
      }
    }
  }

  #place(p: number): [number, number, number] {
    return [this.at[3 * p]!, this.at[3 * p + 1]!, this.at[3 * p + 2]!];
  }

  /** Positive when the place makes a positive tetrahedron of three vertices. */
  #orient(a: number, b: number, c: number, x: number, y: number, z: number): number {
    const p = this.at;
    return (
      SIGN *
      orient3d(
        p[3 * a]!,
        p[3 * a + 1]!,
        p[3 * a + 2]!,
        p[3 * b]!,
        p[3 * b + 1]!,
        p[3 * b + 2]!,
        p[3 * c]!,
        p[3 * c + 1]!,
        p[3 * c + 2]!,
        x,
        y,
        z,
      )
    );
  }

  /** The orientation of a tetrahedron with the place instead of its vertex `k`. */
  #turned(cell: number, k: number, x: number, y: number, z: number): number {
    const [i, j, m] = FACE[k]!;
    const v = this.vertices;
    const o = this.#orient(v[4 * cell + i]!, v[4 * cell + j]!, v[4 * cell + m]!, x, y, z);
    // Taking out vertex k leaves an even or odd order of the others.
    return k % 2 === 1 ? o : -o;
  }

  #beyondOf(cell: number): number {
    for (let k = 0; k < 4; k++) if (this.vertices[4 * cell + k] === BEYOND) return k;
    return -1;
  }

  /** The tetrahedron that holds a place, or one beyond the hull from where it is seen. */
  #walk(x: number, y: number, z: number, from: number): number {
    let cell = from;
    const start = this.#beyondOf(cell);
    if (start >= 0) cell = this.neighbours[4 * cell + start]!;
    for (let steps = 0; ; steps++) {
      // Only numbers below what a double can hold lead in a circle.
      if (4 * steps > this.vertices.length)
        throw new TableError(
          "the points lie too close together, and too unevenly, to be joined by a triangulation; take another method",
        );
      let next = -1;
      for (let k = 0; k < 4 && next < 0; k++)
        if (this.#turned(cell, k, x, y, z) < 0) next = this.neighbours[4 * cell + k]!;
      if (next < 0 || this.#beyondOf(next) >= 0) return next < 0 ? cell : next;
      cell = next;
    }
  }

  /** Whether a point lies within the sphere of a tetrahedron; beyond the hull, on the outer side of its face. */
  #within(cell: number, p: number): boolean {
    const [x, y, z] = this.#place(p);
    const beyond = this.#beyondOf(cell);
    if (beyond >= 0) {
      const o = this.#turned(cell, beyond, x, y, z);
      // In the plane of the face, within its circle is within the sphere of the one behind it.
      return o !== 0 ? o > 0 : this.#within(this.neighbours[4 * cell + beyond]!, p);
    }
    const q = this.at;
    const [a, b, c, d] = [
      this.vertices[4 * cell]!,
      this.vertices[4 * cell + 1]!,
      this.vertices[4 * cell + 2]!,
      this.vertices[4 * cell + 3]!,
    ];
    return (
      INSIDE *
        SIGN *
        insphere(
          q[3 * a]!,
          q[3 * a + 1]!,
          q[3 * a + 2]!,
          q[3 * b]!,
          q[3 * b + 1]!,
          q[3 * b + 2]!,
          q[3 * c]!,
          q[3 * c + 1]!,
          q[3 * c + 2]!,
          q[3 * d]!,
          q[3 * d + 1]!,
          q[3 * d + 2]!,
          x,
          y,
          z,
        ) >
      0
    );
  }

  #insert(p: number): void {
    const place = this.#place(p);
    const start = this.#walk(...place, this.#last);
    // A second point at one place has no part of space of its own.
    for (let k = 0; k < 4; k++) {
      const v = this.vertices[4 * start + k]!;
      if (v !== BEYOND && this.#place(v).every((c, i) => c === place[i])) return;
    }
    const round = ++this.#round;
    const inside = [start];
    this.#conflict[start] = round;
    const rim: (readonly [number, number])[] = [];
    for (let at = 0; at < inside.length; at++) {
      const cell = inside[at]!;
      for (let k = 0; k < 4; k++) {
        const next = this.neighbours[4 * cell + k]!;
        if (this.#conflict[next] === round) continue;
        if (this.#conflict[next] !== -round && this.#within(next, p)) {
          this.#conflict[next] = round;
          inside.push(next);
        } else {
          this.#conflict[next] = -round;
          rim.push([cell, k]);
        }
      }
    }
    this.#star(p, rim);
    for (const cell of inside) this.#free.push(cell);
  }

  /** Joins the faces around a hollow with a point; the hollow's own tetrahedra may be used again afterwards. */
  #star(p: number, rim: readonly (readonly [number, number])[]): void {
    const open = this.#open;
    open.clear(3 * rim.length);
    for (const [cell, k] of rim) {
      const made = this.#free.pop() ?? this.vertices.length / 4;
      const outer = this.neighbours[4 * cell + k]!;
      for (let m = 0; m < 4; m++) this.vertices[4 * made + m] = m === k ? p : this.vertices[4 * cell + m]!;
      this.#conflict[made] = 0;
      this.neighbours[4 * made + k] = outer;
      for (let m = 0; m < 4; m++) if (this.neighbours[4 * outer + m] === cell) this.neighbours[4 * outer + m] = made;
      for (const m of FACE[k]!) {
        // The face opposite to m holds the point and two others: met again by the neighbour.
        const [f, g, h] = FACE[k]!;
        const i = this.vertices[4 * made + (m === f ? g : f)]!;
        const j = this.vertices[4 * made + (m === h ? g : h)]!;
        const other = open.swap(Math.min(i, j), Math.max(i, j), 4 * made + m);
        if (other < 0) continue;
        this.neighbours[4 * made + m] = other >> 2;
        this.neighbours[other] = made;
      }
      this.#last = made;
    }
  }
}

/**
 * Faces around a new point that wait for their neighbour, by the edge opposite to the point: a table of plain numbers.
 */
class OpenFaces {
  #size = 256;
  #i = new Int32Array(this.#size);
  #j = new Int32Array(this.#size);
  #face = new Int32Array(this.#size);
  #stamp = new Int32Array(this.#size);
  #round = 0;

  /** Empties it, with room for a number of edges. */
  clear(edges: number): void {
    this.#round++;
    if (2 * edges <= this.#size) return;
    while (this.#size < 2 * edges) this.#size *= 2;
    [this.#i, this.#j, this.#face, this.#stamp] = Array.from({ length: 4 }, () => new Int32Array(this.#size)) as [
      Int32Array<ArrayBuffer>,
      Int32Array<ArrayBuffer>,
      Int32Array<ArrayBuffer>,
      Int32Array<ArrayBuffer>,
    ];
    this.#round = 1;
  }

  /** The face that waits at an edge; −1 when there is none, and then this one waits. */
  swap(i: number, j: number, face: number): number {
    const mask = this.#size - 1;
    for (let at = (Math.imul(i, 73856093) ^ Math.imul(j, 19349663)) & mask; ; at = (at + 1) & mask) {
      if (this.#stamp[at] !== this.#round) {
        this.#stamp[at] = this.#round;
        this.#i[at] = i;
        this.#j[at] = j;
        this.#face[at] = face;
        return -1;
      }
      if (this.#i[at] === i && this.#j[at] === j) return this.#face[at]!;
    }
  }
}
