/** Thrown inside a long operation when the job that it works for is stopped. */
export class Interrupted extends Error {
  override readonly name = "Interrupted";
  constructor() {
    super("stopped");
  }
}

let stopped: (() => boolean) | undefined;

/** Sets how this thread finds out that its work is to stop; undefined when nobody can stop it. */
export function stopWhen(asked: (() => boolean) | undefined): void {
  stopped = asked;
}

/**
 * A place in a long operation where it may stop: between chunks, time steps, thousands of cells.
 * @throws Interrupted
 */
export function maybeStop(): void {
  if (stopped?.()) throw new Interrupted();
}
