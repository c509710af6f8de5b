import type { Surveyed } from "@oxtrum/engine";
import { AnsweringThread } from "../answering-thread.js";

export type SurveyQuestion =
  | { readonly kind: "outline"; readonly surveyed: Surveyed }
  | { readonly kind: "picture" | "sample" | "reduce"; readonly surveyed: Surveyed; readonly asked: object }
  | { readonly kind: "drawing"; readonly surveyed: Surveyed; readonly asked: { readonly sites: readonly object[] } };

/** Looks at meshes for the Survey page, in a thread of its own. */
export class Surveyor extends AnsweringThread<SurveyQuestion> {
  constructor() {
    super(new URL("./surveyor.worker.js", import.meta.url), 60_000, "looking at this mesh took too long", 4096);
  }
}
