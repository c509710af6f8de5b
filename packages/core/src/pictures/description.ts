/** What is seen in one panel: geometry with values, as it comes from a view. */
export interface Scene {
  /** Nine coordinates a triangle. */
  readonly triangles: Float64Array;
  /** Three values a triangle; NaN is grey. */
  readonly values: Float64Array;
  /** Six coordinates an edge: of the mesh, and of the rim of what is cut. */
  readonly edges: Float64Array;
  readonly rim: Float64Array;
  readonly grid?: VectorGrid | undefined;
}

/** Vectors at places in rows of `nx`; NaN outside the mesh. */
export interface VectorGrid {
  readonly nx: number;
  readonly ny: number;
  readonly places: Float64Array;
  readonly vectors: Float64Array;
}

/** A site that is drawn over a scene, with its name. */
export interface DrawnSite {
  readonly name: string;
  readonly places: Float64Array;
  /** Joined by a line. */
  readonly joined: boolean;
}

/** Where the eye stands, seen from the middle of the scene; what is far is as large as what is near. */
export interface Camera {
  readonly from: readonly [number, number, number];
  readonly up: readonly [number, number, number];
}

export interface PicturePanel {
  readonly title?: string | undefined;
  readonly scene: Scene;
}

/** A picture of fields as data: what is stored and drawn. */
export interface PictureDescription {
  readonly title?: string;
  readonly subtitle?: string;
  readonly panels: readonly PicturePanel[];
  /** How many panels stand side by side. */
  readonly columns?: number;
  /** The panels are shown one after the other. */
  readonly frames?: boolean;
  readonly color?: {
    readonly title: string;
    readonly unit: string | null;
    readonly min: number;
    readonly max: number;
    /** So many even steps of colour. */ readonly steps?: number;
  };
  /** Each panel has a range of its own. */
  readonly ownRange?: boolean;
  readonly camera: Camera;
  readonly contours: readonly number[];
  readonly arrows: boolean;
  readonly streamlines: boolean;
  readonly vectors?: { readonly title: string; readonly unit: string | null };
  readonly mesh: boolean;
  readonly sites: readonly DrawnSite[];
  readonly lengthUnit: string | null;
}
