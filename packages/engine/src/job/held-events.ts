import type { JobEvent } from "../record/events.js";

/** Events that are told in their order, or held back until it is known whether they count. */
export class HeldEvents {
  #held: JobEvent[] | undefined;

  constructor(private readonly listener: (e: JobEvent) => void) {}

  readonly tell = (e: JobEvent): void => {
    if (this.#held) this.#held.push(e);
    else this.listener(e);
  };

  hold(): void {
    this.#held ??= [];
  }

  /** Tells something before all that is held back. */
  tellFirst(e: JobEvent): void {
    this.listener(e);
  }

  /** Tells what was held back, and from now on all at once. */
  release(): void {
    const held = this.#held ?? [];
    this.#held = undefined;
    held.forEach((e) => this.listener(e));
  }

  /** Forgets what was held back. */
  drop(): void {
    this.#held = undefined;
  }
}
