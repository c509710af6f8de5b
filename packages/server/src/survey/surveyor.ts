import { bundled } from "@oxtrum/engine/bundled";
import type { Surveyed } from "@oxtrum/engine";
import { AnsweringThread } from "../threads/answering-thread.js";

export type SurveyQuestion =
  | { readonly kind: "outline"; readonly surveyed: Surveyed }
  | { readonly kind: "picture" | "sample" | "reduce"; readonly surveyed: Surveyed; readonly asked: object }
  | { readonly kind: "drawing"; readonly surveyed: Surveyed; readonly asked: { readonly sites: readonly object[] } };

/** Looks at meshes for the Survey page, in a thread of its own. */
export class Surveyor extends AnsweringThread<SurveyQuestion> {
  constructor() {
    super(bundled("surveyor.worker.cjs") ?? new URL("./surveyor.worker.js", import.meta.url), {
      seconds: 120,
      late: "Looking at this mesh took more than two minutes of processor time. Use a script for it.",
      memory: 4096,
    });
  }
}
