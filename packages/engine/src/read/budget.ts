/** More memory is asked for than the job may use. */
export class BudgetError extends Error {
  override readonly name = "BudgetError";
}

/**
 * The one counter of large arrays in a job: all threads add to it, and an allocation that would pass the limit fails
 * for the run that asked, not for the process.
 *
 * Counted in KiB, in memory that threads share.
 */
export class Budget {
  readonly #used: Int32Array;
  #own = 0;
  #cached = 0;

  constructor(
    readonly shared: SharedArrayBuffer,
    readonly limit: number,
  ) {
    this.#used = new Int32Array(shared);
  }

  static create(limit: number): Budget {
    return new Budget(new SharedArrayBuffer(8), limit);
  }

  get used(): number {
    return Atomics.load(this.#used, 0) * 1024;
  }

  /** The most that was in use at once, in bytes. */
  get peak(): number {
    return Atomics.load(this.#used, 1) * 1024;
  }

  /** Room for numbers that all threads can see. @throws BudgetError */
  numbers(length: number): Float64Array {
    this.take(length * 8);
    return new Float64Array(new SharedArrayBuffer(length * 8));
  }

  take(bytes: number): void {
    const units = Math.ceil(bytes / 1024);
    this.#own += units;
    const now = Atomics.add(this.#used, 0, units) + units;
    if (now * 1024 > this.limit) {
      this.release(bytes);
      throw new BudgetError(
        `${Math.round(bytes / 1e6)} MB more are needed, but the job's ${Math.round(this.limit / 1e6)} MB ` +
          "are in use; give it more with --memory, or pick fewer columns",
      );
    }
    for (let peak = Atomics.load(this.#used, 1); now > peak; peak = Atomics.load(this.#used, 1))
      Atomics.compareExchange(this.#used, 1, peak, now);
  }

  release(bytes: number): void {
    const units = Math.ceil(bytes / 1024);
    this.#own -= units;
    Atomics.sub(this.#used, 0, units);
  }

  /** Gives back all that this thread has taken, but for what its caches hold. */
  releaseOwn(): void {
    this.release(this.#own * 1024);
  }

  /**
   * Counts what the caches of this thread hold, from one batch to the next.
   *
   * @returns whether that fits; where it does not, nothing is counted and the caches have to be emptied
   */
  holdCaches(bytes: number): boolean {
    const units = Math.ceil(bytes / 1024);
    const now = Atomics.add(this.#used, 0, units - this.#cached) + units - this.#cached;
    this.#cached = units;
    if (now * 1024 <= this.limit) return true;
    Atomics.sub(this.#used, 0, units);
    this.#cached = 0;
    return false;
  }
}
