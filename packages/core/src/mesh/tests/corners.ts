/** Corners of cells in their local coordinates, in the order of the file formats. */
type Place = [number, number, number];
export const quad: Place[] = [
  [0, 0, 0],
  [1, 0, 0],
  [1, 1, 0],
  [0, 1, 0],
];
export const brick: Place[] = [...quad, ...quad.map(([x, y]): Place => [x, y, 1])];
export const wedge: Place[] = [
  [0, 0, 0],
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
  [1, 0, 1],
  [0, 1, 1],
];
export const pyramid: Place[] = [...quad, [0.5, 0.5, 1]];
