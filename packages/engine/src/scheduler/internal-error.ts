/**
 * A mistake of our own code. It is not a property of a run's data: it stops the job, with what is needed to find it,
 * instead of passing for the reason why a run is excluded.
 */
export class InternalError extends Error {
  override readonly name = "InternalError";

  static of(e: Error, what: string): InternalError {
    const place = (e.stack ?? "")
      .split("\n")
      .filter((l) => /^\s+at /.test(l))
      .slice(0, 4)
      .map((l) => l.trim().replace(/file:\/\/\S*?\/(packages|node_modules)\//, "$1/"))
      .join("; ");
    return new InternalError(
      `a mistake inside Oxtrum, not in your data: ${what}: ${e.name}: ${e.message}. Please report it with this: ${place}`,
    );
  }
}

/** Errors that only a mistake of our own can throw. Arrays too long for this machine are none. */
export const isOwnMistake = (e: unknown): e is Error =>
  e instanceof TypeError ||
  e instanceof ReferenceError ||
  e instanceof SyntaxError ||
  (e instanceof RangeError && /call stack/i.test(e.message));

/** What was thrown as a mistake of our own, or undefined when the data or the machine are the cause. */
export const asMistake = (e: unknown, what: string): InternalError | undefined =>
  e instanceof InternalError ? e : isOwnMistake(e) ? InternalError.of(e, what) : undefined;
