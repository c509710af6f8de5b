/** A place in the mesh's coordinates. */
export type Place = readonly [x: number, y: number, z: number];
export type Axis = "x" | "y" | "z";

/** A box that bounds a plane, axis by axis; open where nothing is said. */
export type Box = Readonly<Partial<Record<Axis, readonly [number, number]>>>;

/** Single places, in order, and how far each lies along the site. */
export interface Places {
  readonly xyz: Float64Array;
  /** Distance from the start, for lines and paths. */
  readonly distance?: Float64Array;
  /** The unit vector along the line at each place. */
  readonly tangent?: Float64Array;
  readonly names?: readonly string[];
}
