import type { Place } from "./places.js";

/** What a force comes from: a pressure across the faces, a shear stress along them, or both. */
export interface Load {
  readonly pressure?: string | undefined;
  /** A vector. */
  readonly shear?: string | undefined;
  /** Taken off the pressure, in its unit. */
  readonly reference?: number | undefined;
}

/** What is computed from a site: one number each, or three for places and vectors. */
export type Reduction =
  /**
   * The mean, weighted by area (planes, patches), volume (blocks) or length (lines); `plain` counts every piece alike;
   * `by` weights with a quantity as well, `flow` with the flow of a vector through the surface (times a density).
   */
  | {
      readonly mean: string;
      readonly weights?:
        | "size"
        | "plain"
        | { readonly by: string }
        | { readonly flow: string; readonly density?: string | undefined }
        | undefined;
    }
  /** With `place`, also where it is: columns `name.x name.y name.z`. */
  | { readonly min: string; readonly place?: true | undefined }
  | { readonly max: string; readonly place?: true | undefined }
  /** The standard deviation about the mean, weighted likewise. */
  | { readonly std: string }
  /** The value that a share of the area, volume or length lies below, in percent; linear between the pieces' means. */
  | { readonly percentile: number; readonly of: string }
  /** 1 − ∫|v − v̄| dA / (2 |v̄| A): 1 where it is the same everywhere (H. Weltens et al., SAE 930780, 1993). */
  | { readonly uniformity: string }
  /** The integral over area, volume or length. */
  | { readonly integral: string }
  /** The flow of a vector field through a plane (along its normal) or a patch (along its faces' normals). */
  | { readonly flux: string }
  /** The middle of the site, or of a quantity spread over it (the centre of mass for a density). */
  | { readonly centre: string | true }
  /** The force on a patch: pressure along its faces' normals and shear; columns `name.x name.y name.z`. */
  | { readonly force: Load }
  /** Its moment about a place. */
  | { readonly moment: Load; readonly about: Place }
  /** Length, area or volume; the number of places where the site is places. */
  | { readonly size: true }
  /**
   * The height of a free surface in a column: where the fill fraction passes `at` (0.5) for the last time going up, or
   * with `by: "sum"` as if all the fill stood at the bottom. From particles (`true`): the highest
   * within `radius` where their density is at least the share `at` (0.25) of that in the bulk.
   */
  | {
      readonly level: string | true;
      readonly at?: number | undefined;
      readonly by?: "crossing" | "sum" | undefined;
      readonly radius?: number | undefined;
    };

export type Reductions = Readonly<Record<string, Reduction>>;

/** The columns that a reduction is computed from; `vector` names are told apart into their components. */
export function namesNeeded(r: Reduction, vector: (name: string) => readonly string[]): readonly string[] {
  if ("mean" in r) {
    const w = r.weights;
    if (w === undefined || typeof w === "string") return [r.mean];
    if ("by" in w) return [r.mean, w.by];
    return [r.mean, ...vector(w.flow), ...(w.density === undefined ? [] : [w.density])];
  }
  if ("min" in r) return [r.min];
  if ("max" in r) return [r.max];
  if ("std" in r) return [r.std];
  if ("percentile" in r) return [r.of];
  if ("uniformity" in r) return [r.uniformity];
  if ("integral" in r) return [r.integral];
  if ("flux" in r) return vector(r.flux);
  if ("centre" in r) return r.centre === true ? [] : [r.centre];
  if ("force" in r) return loadNames(r.force, vector);
  if ("moment" in r) return loadNames(r.moment, vector);
  if ("level" in r) return r.level === true ? [] : [r.level];
  return [];
}

const loadNames = (l: Load, vector: (name: string) => readonly string[]): string[] => [
  ...(l.pressure === undefined ? [] : [l.pressure]),
  ...(l.shear === undefined ? [] : vector(l.shear)),
];
