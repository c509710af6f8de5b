import type { Context } from "hono";
import { streamSSE } from "hono/streaming";
import { inBackground } from "./background.js";

/** Messages that may wait for one browser before its stream is closed: it comes back, and asks for the whole. */
const MOST_BEHIND = 5000;
const BEAT = 15_000;

/**
 * A stream of messages to a browser. One that does not read does not hold others up: what waits for it is bounded.
 *
 * @param listen begins to give messages, and gives what ends that
 */
export function liveStream(c: Context, hello: object, listen: (give: (m: object) => void) => () => void): Response {
  return streamSSE(c, async (stream) => {
    let behind = 0;
    const give = (m: object): void => {
      if (stream.aborted || stream.closed) return;
      if (++behind > MOST_BEHIND) {
        stream.abort();
        return;
      }
      inBackground(
        "a live stream",
        stream.writeSSE({ data: JSON.stringify(m) }).finally(() => behind--),
      );
    };
    const unlisten = listen(give);
    stream.onAbort(unlisten);
    try {
      await stream.writeSSE({ data: JSON.stringify(hello) });
      while (!stream.aborted && !stream.closed) {
        await stream.sleep(BEAT);
        await stream.writeSSE({ event: "beat", data: "" });
      }
    } finally {
      unlisten();
    }
  });
}
