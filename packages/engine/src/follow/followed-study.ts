import type { StudyDefinition } from "../definition/definition.js";

/** A study that is followed: where it is, and how its files are named and read. */
export interface FollowedStudy {
  readonly name: string;
  readonly folder: string;
  readonly definition: StudyDefinition;
}

export interface FollowedRun {
  readonly id: string;
  readonly folder: string;
}
