import { bundled } from "@oxtrum/engine/bundled";
import type { JobDiff } from "@oxtrum/engine";
import { AnsweringThread } from "../threads/answering-thread.js";

export interface DiffQuestion {
  /** Folders of outputs. */
  readonly then: string;
  readonly now: string;
  readonly tolerance: { readonly absolute: number; readonly relative: number };
}

/** Says what differs between two jobs, in a thread of its own: large tables take their time. */
export class Differ extends AnsweringThread<DiffQuestion> {
  constructor() {
    super(bundled("differ.worker.cjs") ?? new URL("./differ.worker.js", import.meta.url), {
      seconds: 120,
      late: "The two jobs take longer than two minutes of processor time to compare: use oxtrum diff.",
    });
  }

  async diff(q: DiffQuestion): Promise<JobDiff> {
    return (await this.ask(q)) as JobDiff;
  }
}
