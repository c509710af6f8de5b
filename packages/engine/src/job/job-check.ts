import { askCheck, startCheckProcess, type ScriptCheck } from "../check/ask-check.js";
import type { CheckProcess } from "../check/check-process.js";
import type { JobRequest } from "../record/request.js";
import { keptPlace } from "../store/kept-places.js";
import type { HeldEvents } from "./held-events.js";

/**
 * The check of a job's script: before it runs where that takes no time, while it runs where the compiler has to be
 * loaded first. What the script does meanwhile is told, and counts, only when there are no errors.
 */
export class JobCheck {
  /** Whether the script has no errors, when that is known. */
  isSound: Promise<boolean> = Promise.resolve(true);
  #check: ScriptCheck | undefined;
  #isClosed = false;
  #ready: CheckProcess | undefined;

  /** @param stop is called when errors are found while the script runs */
  constructor(
    private readonly events: HeldEvents,
    private readonly stop: () => void,
  ) {}

  /** Gets ready to check, while the studies are scanned. */
  prepare(request: JobRequest, isAside: boolean | undefined): void {
    if (!request.compiled) this.#ready = startCheckProcess(request.files, this.#keepIn(request), isAside);
  }

  #keepIn(request: JobRequest): string | undefined {
    return request.cache ? keptPlace(request.dataFolder, "checks") : undefined;
  }

  /**
   * The modules to run; undefined where there are errors, which have been told.
   *
   * @param types declarations of the studies
   * @param isAside whether the check goes on while the script runs, if not decided here
   */
  async modules(
    request: JobRequest,
    types: Readonly<Record<string, string>>,
    isAside: boolean | undefined,
  ): Promise<Readonly<Record<string, string>> | undefined> {
    const check = (this.#check = askCheck(request.files, types, this.#keepIn(request), isAside, this.#ready));
    if (!check.isSettled && check.modules) {
      this.events.hold();
      this.isSound = this.#judged(check);
      return check.modules;
    }
    const { diagnostics, modules } = await check.verdict;
    if (diagnostics.length > 0) this.events.tell({ type: "diagnostics", diagnostics });
    return modules;
  }

  /** Tells what a check found, before all that the script did meanwhile. */
  async #judged(check: ScriptCheck): Promise<boolean> {
    try {
      const { diagnostics, modules } = await check.verdict;
      if (this.#isClosed) return modules !== undefined;
      if (diagnostics.length > 0) this.events.tellFirst({ type: "diagnostics", diagnostics });
      if (modules) {
        this.events.release();
        return true;
      }
    } catch (e) {
      // Whoever ended the job does not wait for it any more.
      if (this.#isClosed) return false;
      const text = `the script cannot be checked: ${(e as Error).message}`;
      this.events.tellFirst({ type: "message", level: "error", text });
    }
    this.events.drop();
    this.stop();
    return false;
  }

  /** Ends it, and tells what was held back. */
  close(): void {
    this.#isClosed = true;
    this.#check?.stop();
    this.#ready?.stop();
    this.events.release();
  }
}
