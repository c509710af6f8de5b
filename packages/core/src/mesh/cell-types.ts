import {
  product,
  cube,
  square,
  corner,
  flatCorner,
  prism,
  type Shape,
  hexNodes,
  hexFaces,
  voxelNodes,
  voxelFaces,
  quadNodes,
  tetraFaces,
  wedgeFaces,
  pyramidFaces,
  tetraShape,
  wedgeShape,
  pyramidShape,
  quadraticSimplex,
  serendipity,
  drawnTogether,
  hexEdges,
  quadEdges,
  first,
  wedge15,
  wedge18,
  flatQuadratic,
  times,
  orders,
  hex24,
  hex27,
  brickTerms,
  prismFaces,
  half,
  quarter,
  third,
} from "./shape-functions.js";
import { shapeThrough, term } from "./polynomial-shape.js";

/**
 * Cells by the numbers of the open VTK file formats: how many dimensions and nodes they have, their faces, how they
 * fall into tetrahedra, and their shape functions (O. C. Zienkiewicz, R. L. Taylor, "The Finite Element Method", vol.
 * 1).
 */
export interface CellType {
  readonly name: string;
  readonly dimension: 0 | 1 | 2 | 3;
  /** Number of nodes; 0 where each cell says its own. */
  readonly nodes: number;
  /** Faces of volume cells by local corner nodes, turned outward; of quadratic ones by their corners. */
  readonly faces?: readonly (readonly number[])[];
  /** The corners among the nodes; all of them when not given. */
  readonly corners?: readonly number[];
  /**
   * Values of the shape functions at local coordinates, written into `n`; and their derivatives into `d`, three a node.
   */
  readonly shape?: Shape;
  /** Local coordinates to begin the search from, and the condition for lying inside with some room. */
  readonly middle?: readonly [number, number, number];
  readonly inside?: (r: number, s: number, t: number, room: number) => boolean;
}

export const cellTypes: Readonly<Record<number, CellType>> = {
  1: { name: "vertex", dimension: 0, nodes: 1 },
  2: { name: "poly-vertex", dimension: 0, nodes: 0 },
  3: { name: "line", dimension: 1, nodes: 2 },
  4: { name: "poly-line", dimension: 1, nodes: 0 },
  5: {
    name: "triangle",
    dimension: 2,
    nodes: 3,
    middle: third,
    inside: flatCorner,
    shape: (r, s, _t, n, d) => {
      n[0] = 1 - r - s;
      n[1] = r;
      n[2] = s;
      d.set([-1, -1, 0, 1, 0, 0, 0, 1, 0]);
    },
  },
  6: { name: "triangle strip", dimension: 2, nodes: 0 },
  7: { name: "polygon", dimension: 2, nodes: 0 },
  8: {
    name: "pixel",
    dimension: 2,
    nodes: 4,
    middle: half,
    inside: square,
    shape: product(
      [
        [0, 0, -1],
        [1, 0, -1],
        [0, 1, -1],
        [1, 1, -1],
      ],
      1,
    ),
  },
  9: { name: "quad", dimension: 2, nodes: 4, middle: half, inside: square, shape: product(quadNodes, 1) },
  10: { name: "tetra", dimension: 3, nodes: 4, faces: tetraFaces, middle: quarter, inside: corner, shape: tetraShape },
  11: {
    name: "voxel",
    dimension: 3,
    nodes: 8,
    faces: voxelFaces,
    middle: half,
    inside: cube,
    shape: product(voxelNodes, 1),
  },
  12: {
    name: "hexahedron",
    dimension: 3,
    nodes: 8,
    faces: hexFaces,
    middle: half,
    inside: cube,
    shape: product(hexNodes, 1),
  },
  13: { name: "wedge", dimension: 3, nodes: 6, faces: wedgeFaces, middle: third, inside: prism, shape: wedgeShape },
  14: {
    name: "pyramid",
    dimension: 3,
    nodes: 5,
    faces: pyramidFaces,
    middle: [0.5, 0.5, 0.2],
    inside: cube,
    shape: pyramidShape,
  },
  21: { name: "quadratic line", dimension: 1, nodes: 3, corners: [0, 1] },
  22: {
    name: "quadratic triangle",
    dimension: 2,
    nodes: 6,
    corners: first(3),
    middle: third,
    inside: flatCorner,
    shape: quadraticSimplex(2, [
      [0, 1],
      [1, 2],
      [2, 0],
    ]),
  },
  23: {
    name: "quadratic quad",
    dimension: 2,
    nodes: 8,
    corners: first(4),
    middle: half,
    inside: square,
    shape: serendipity(quadNodes, quadEdges),
  },
  24: {
    name: "quadratic tetra",
    dimension: 3,
    nodes: 10,
    corners: first(4),
    faces: tetraFaces,
    middle: quarter,
    inside: corner,
    shape: quadraticSimplex(3, [
      [0, 1],
      [1, 2],
      [2, 0],
      [0, 3],
      [1, 3],
      [2, 3],
    ]),
  },
  25: {
    name: "quadratic hexahedron",
    dimension: 3,
    nodes: 20,
    corners: first(8),
    faces: hexFaces,
    middle: half,
    inside: cube,
    shape: serendipity(hexNodes, hexEdges),
  },
  15: { name: "pentagonal prism", dimension: 3, nodes: 10, faces: prismFaces(5) },
  16: { name: "hexagonal prism", dimension: 3, nodes: 12, faces: prismFaces(6) },
  26: {
    name: "quadratic wedge",
    dimension: 3,
    nodes: 15,
    corners: first(6),
    faces: wedgeFaces,
    middle: third,
    inside: prism,
    shape: shapeThrough(wedge15, [
      ...flatQuadratic,
      ...times(flatQuadratic, 1),
      ...times(flatQuadratic.slice(0, 3), 2),
    ]),
  },
  27: {
    name: "quadratic pyramid",
    dimension: 3,
    nodes: 13,
    corners: first(5),
    faces: pyramidFaces,
    middle: [0.5, 0.5, 0.2],
    inside: cube,
    shape: drawnTogether(serendipity(hexNodes, hexEdges)),
  },
  28: {
    name: "biquadratic quad",
    dimension: 2,
    nodes: 9,
    corners: first(4),
    middle: half,
    inside: square,
    shape: product(orders([...quadNodes, [0.5, 0, -1], [1, 0.5, -1], [0.5, 1, -1], [0, 0.5, -1], [0.5, 0.5, -1]]), 2),
  },
  29: {
    name: "triquadratic hexahedron",
    dimension: 3,
    nodes: 27,
    corners: first(8),
    faces: hexFaces,
    middle: half,
    inside: cube,
    shape: product(orders(hex27), 2),
  },
  30: {
    name: "quadratic linear quad",
    dimension: 2,
    nodes: 6,
    corners: first(4),
    middle: half,
    inside: square,
    shape: shapeThrough(
      [
        [0, 0, 0],
        [1, 0, 0],
        [1, 1, 0],
        [0, 1, 0],
        [0.5, 0, 0],
        [0.5, 1, 0],
      ],
      [term(0, 0, 0), term(1, 0, 0), term(2, 0, 0), term(0, 1, 0), term(1, 1, 0), term(2, 1, 0)],
    ),
  },
  31: {
    name: "quadratic linear wedge",
    dimension: 3,
    nodes: 12,
    corners: first(6),
    faces: wedgeFaces,
    middle: third,
    inside: prism,
    shape: shapeThrough(wedge15.slice(0, 12), [...flatQuadratic, ...times(flatQuadratic, 1)]),
  },
  32: {
    name: "biquadratic quadratic wedge",
    dimension: 3,
    nodes: 18,
    corners: first(6),
    faces: wedgeFaces,
    middle: third,
    inside: prism,
    shape: shapeThrough(
      wedge18,
      [0, 1, 2].flatMap((c) => times(flatQuadratic, c)),
    ),
  },
  33: {
    name: "biquadratic quadratic hexahedron",
    dimension: 3,
    nodes: 24,
    corners: first(8),
    faces: hexFaces,
    middle: half,
    inside: cube,
    shape: shapeThrough(hex24, [...brickTerms, term(0, 2, 2), term(1, 2, 2), term(2, 0, 2), term(2, 1, 2)]),
  },
  34: {
    name: "biquadratic triangle",
    dimension: 2,
    nodes: 7,
    corners: first(3),
    middle: third,
    inside: flatCorner,
    shape: shapeThrough(
      [
        [0, 0, 0],
        [1, 0, 0],
        [0, 1, 0],
        [0.5, 0, 0],
        [0.5, 0.5, 0],
        [0, 0.5, 0],
        [1 / 3, 1 / 3, 0],
      ],
      [
        ...flatQuadratic,
        [
          [1, 1, 1, 0],
          [-1, 2, 1, 0],
          [-1, 1, 2, 0],
        ],
      ],
    ),
  },
  35: { name: "cubic line", dimension: 1, nodes: 4, corners: [0, 1] },
  36: { name: "quadratic polygon", dimension: 2, nodes: 0 },
  42: { name: "polyhedron", dimension: 3, nodes: 0 },
};

/** The kind of a cell. @throws Error for a number that stands for no cell that is read */
export function cellType(id: number): CellType {
  const t = cellTypes[id];
  if (!t) throw new Error(`cells of type ${id} are not read`);
  return t;
}
