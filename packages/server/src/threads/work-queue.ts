import { problem } from "../store/problem.js";

/** Lets few pieces of work run at once; others wait, and too many are refused. */
export class WorkQueue {
  #running = 0;
  readonly #waiting: (() => void)[] = [];

  constructor(
    private readonly most: number,
    private readonly mostWaiting: number,
  ) {}

  /** @throws HTTPException 503 when too many wait already */
  async run<T>(work: () => Promise<T>): Promise<T> {
    if (this.#running >= this.most) {
      if (this.#waiting.length >= this.mostWaiting)
        throw problem(503, "The server has too much to do at the moment; ask again in a while.");
      await new Promise<void>((go) => this.#waiting.push(go));
    } else this.#running++;
    try {
      return await work();
    } finally {
      const next = this.#waiting.shift();
      if (next) next();
      else this.#running--;
    }
  }
}
