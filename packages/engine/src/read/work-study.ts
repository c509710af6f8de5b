import type { BlockDigest } from "../store/partial-identity.js";
import type { StudyDefinition } from "../definition/definition.js";

/** A file that a result was made from. */
export interface InputFile {
  readonly study: string;
  /** Within the study's folder. */
  readonly path: string;
  readonly size: number;
  readonly sha256: string;
  /** Of a large file of which little was read: the digests of these blocks, which `sha256` is made from. */
  readonly blocks?: readonly BlockDigest[];
}

/** A study as workers know it. */
export interface WorkStudy {
  readonly name: string;
  readonly folder: string;
  readonly definition: StudyDefinition;
  readonly runs: readonly { readonly id: string; readonly folder: string }[];
}
