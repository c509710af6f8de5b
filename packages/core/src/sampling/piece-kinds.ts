/**
 * Small pieces that make up a plane, a surface or a volume: lines, triangles or tetrahedra. Over each a linear field's
 * mean is that of its corners, so sums over pieces are exact for linear fields.
 */
export interface Pieces {
  /** 1 for the points of a cloud, of size 1 each. */
  readonly corners: 1 | 2 | 3 | 4;
  /** Each corner lies between two mesh points (the same one twice for a corner of the mesh). */
  readonly from: Int32Array;
  readonly to: Int32Array;
  readonly part: Float64Array;
  readonly cell: Int32Array;
  /** Length, area or volume of each piece. */
  readonly size: Float64Array;
  readonly places: Float64Array;
  /** The unit normal of each; of a line in a surface the direction across it. Undefined where there is none. */
  readonly normals: Float64Array | undefined;
  /** By cell: 1 where a face was turned to agree with its neighbours. */
  readonly turned?: Uint8Array | undefined;
  /** Where these are parts of other pieces, cut off by a box: what they are parts of. */
  readonly clipped?: Clipped | undefined;
}

/** Pieces cut off by a box: of which pieces they are parts, and where their corners lie in those. */
export interface Clipped {
  readonly of: Pieces;
  /** By piece: the one it is part of. */
  readonly piece: Int32Array;
  /** By corner: the shares of that piece's corners, which add up to 1. */
  readonly shares: Float64Array;
}
