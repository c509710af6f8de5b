import { plainText } from "@oxtrum/core/tables";

/**
 * Work that nobody waits for. Its errors are told on the terminal and end nothing: every promise in the background is
 * handed to this.
 */
export function inBackground(what: string, work: Promise<unknown>): void {
  work.catch((e: unknown) => report(what, e));
}

/** Tells of an error on the terminal. */
export function report(what: string, e: unknown): void {
  const text = e instanceof Error ? (e.stack ?? e.message) : String(e);
  try {
    for (const line of `${what}: ${text}`.split("\n")) process.stderr.write(`${plainText(line)}\n`);
  } catch {
    // Nobody listens any more.
  }
}
