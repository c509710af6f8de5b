import { bundled } from "@oxtrum/engine/bundled";
import type { Followed } from "@oxtrum/engine";
import { inBackground } from "../background.js";
import { problem } from "../store/problem.js";
import type { Studies } from "../studies.js";
import { AnsweringThread } from "../threads/answering-thread.js";
import { pauseAfter, type Due } from "./pace.js";
import type { FollowingQuestion, LogPlace, LookAnswer, ReadAnswer } from "./questions.js";

const module = bundled("following.worker.cjs") ?? new URL("./following.worker.js", import.meta.url);
/** Between two looks at the studies' folders. */
const LOOK = 1000;

/**
 * Follows the studies that browsers look at: a thread looks at their folders each second, and reads what grew when a
 * page asks for it. A study in which files came, went or grew is scanned again, at a pace.
 */
export class Following {
  readonly #thread = new AnsweringThread<FollowingQuestion>(module, {
    seconds: 120,
    late: "Reading these files took more than two minutes of processor time. Follow fewer runs or quantities.",
    memory: 4096,
  });
  /** Reads whole logs, for which those who follow do not wait. */
  readonly #logs = new AnsweringThread<FollowingQuestion>(module, {
    seconds: 120,
    late: "Reading this log took more than two minutes of processor time. Use a script for it.",
    memory: 4096,
  });
  /** By study: the scan that the thread has. */
  readonly #opened = new Map<string, number>();
  readonly #due = new Map<string, Due>();
  readonly #looking = new Set<string>();
  #timer: NodeJS.Timeout;
  #closed = false;

  /** @param watched whether anybody looks */
  constructor(
    private readonly studies: Studies,
    watched: () => boolean,
  ) {
    this.#timer = setInterval(() => {
      if (watched()) this.#lookAtAll();
    }, LOOK);
    this.#timer.unref();
  }

  /** States and quantities of a study's runs as far as they have come, as JSON. */
  async read(
    name: string,
    asked: { runs: readonly string[]; quantities: readonly Followed[]; have: Readonly<Record<string, string>> },
  ): Promise<string> {
    for (let tries = 0; ; tries++) {
      const { scannedAt } = await this.#open(name);
      const answer = (await this.#thread.ask({ kind: "read", name, ...asked })) as ReadAnswer;
      if (answer !== undefined) return `${answer.slice(0, -1)},"scannedAt":${scannedAt}}`;
      // The thread began anew, and knows nothing of the study.
      this.#opened.delete(name);
      if (tries > 1) throw problem(503, "The study cannot be followed at the moment; ask again in a while.");
    }
  }

  async logLines(name: string, run: string, file: string): Promise<unknown> {
    return this.#logs.ask({ kind: "log lines", place: await this.#place(name, run, file) });
  }

  async logMatch(name: string, run: string, file: string, patterns: string[], options?: object): Promise<unknown> {
    return this.#logs.ask({ kind: "log match", place: await this.#place(name, run, file), patterns, options });
  }

  close(): void {
    this.#closed = true;
    clearInterval(this.#timer);
    this.#thread.close();
    this.#logs.close();
  }

  async #place(name: string, id: string, file: string): Promise<LogPlace> {
    const { catalogue } = await this.studies.get(name);
    const run = catalogue.runs.find((r) => r.id === id);
    if (!run) throw problem(404, `There is no run "${id}".`);
    return { folder: catalogue.folder, definition: catalogue.definition, run: { folder: run.folder }, file };
  }

  /** Gives the thread the study as it was scanned last. */
  async #open(name: string): Promise<{ scannedAt: number }> {
    const known = await this.studies.get(name);
    if (this.#opened.get(name) !== known.scannedAt) {
      this.#opened.set(name, known.scannedAt);
      await this.#thread.ask({ kind: "open", name, catalogue: known.catalogue, scanned: known.scanBegan });
    }
    return known;
  }

  #lookAtAll(): void {
    for (const name of this.studies.scanned())
      if (!this.#looking.has(name)) {
        this.#looking.add(name);
        inBackground(
          "looking at a study",
          this.#look(name)
            .catch((e: unknown) => {
              // What was asked when the server ended has no answer.
              if (!this.#closed) throw e;
            })
            .finally(() => this.#looking.delete(name)),
        );
      }
  }

  async #look(name: string): Promise<void> {
    const { scannedAt } = await this.#open(name);
    const look = (await this.#thread.ask({ kind: "look", name })) as LookAnswer;
    if (!look) this.#opened.delete(name);
    else if (look.moved || look.ended.length > 0) this.#due.set(name, "moved");
    else if (look.changed.length > 0 && !this.#due.has(name)) this.#due.set(name, "grown");
    const due = this.#due.get(name);
    if (!due) return;
    if (Date.now() - scannedAt < pauseAfter(due, this.studies.scanTook(name))) return;
    this.#due.delete(name);
    await this.studies.get(name, true);
  }
}
