import type { Catalogue, Followed, Look, StudyDefinition } from "@oxtrum/engine";

/** A log of a run. */
export interface LogPlace {
  readonly folder: string;
  readonly definition: StudyDefinition;
  readonly run: { readonly folder: string };
  readonly file: string;
}

/** What the following thread is asked. */
export type FollowingQuestion =
  /** A study as it was scanned: it is followed from now on. */
  | { readonly kind: "open"; readonly name: string; readonly catalogue: Catalogue; readonly scanned: number }
  | { readonly kind: "close"; readonly name: string }
  | { readonly kind: "look"; readonly name: string }
  | {
      readonly kind: "read";
      readonly name: string;
      readonly runs: readonly string[];
      readonly quantities: readonly Followed[];
      readonly have: Readonly<Record<string, string>>;
    }
  | { readonly kind: "log lines"; readonly place: LogPlace }
  | {
      readonly kind: "log match";
      readonly place: LogPlace;
      readonly patterns: readonly string[];
      readonly options: object | undefined;
    };

/** The answer to "look" and "read"; undefined when the study is not followed here (any more). */
export type LookAnswer = (Look & { readonly ended: readonly string[] }) | undefined;
/**
 * What was read, as JSON: when, when the folders were looked at, and the runs (`LiveRunAnswer` of the engine). A text
 * crosses to the server's main thread and to the page as it is; as objects it would be copied and written there.
 */
export type ReadAnswer = string | undefined;
