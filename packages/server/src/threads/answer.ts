import { parentPort } from "node:worker_threads";
import { threadNumber } from "./thread-time.js";

/** What a thread sends: first its number, then one answer for each question; progress in between. */
export type FromThread =
  | { readonly thread: string | undefined }
  | { readonly id: number; readonly progress: unknown }
  | { readonly id: number; readonly value?: unknown; readonly error?: ThreadError };

export interface ThreadError {
  readonly message: string;
  /** Whether the message is meant for whoever asked; anything else is a mistake of our own, with its stack. */
  readonly plain: boolean;
  readonly stack?: string | undefined;
}

/** Mistakes of our own: what they say means nothing to whoever asked. */
const ours = new Set(["TypeError", "RangeError", "ReferenceError", "SyntaxError", "AssertionError"]);

/**
 * Answers the questions that this thread is asked, one after the other.
 *
 * @param handle gives the answer; the second argument tells of progress
 */
export function answerQuestions<Question>(
  handle: (q: Question, progress: (p: unknown) => void) => unknown,
  transfer: (value: unknown) => readonly ArrayBuffer[] = () => [],
): void {
  const port = parentPort!;
  const send = (m: FromThread): void => port.postMessage(m);
  send({ thread: threadNumber() });
  const answer = async (m: Question & { readonly id: number }): Promise<void> => {
    try {
      const value = await handle(m, (progress) => send({ id: m.id, progress }));
      port.postMessage({ id: m.id, value } satisfies FromThread, transfer(value) as ArrayBuffer[]);
    } catch (e) {
      const error = e as Error & { file?: string };
      const message =
        error.file === undefined || error.message.includes(error.file)
          ? error.message
          : `${error.file}: ${error.message}`;
      send({ id: m.id, error: { message, plain: !ours.has(error.name), stack: error.stack } });
    }
  };
  port.on("message", (m: Question & { readonly id: number }) => void answer(m));
}
