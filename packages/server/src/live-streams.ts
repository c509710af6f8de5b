import type { Context } from "hono";
import { streamSSE } from "hono/streaming";
import type { LiveMessage } from "@oxtrum/contract";
import { inBackground } from "./background.js";
import type { News } from "./news.js";

/** Messages that may wait for one browser before its stream is closed: it comes back, and asks for the whole. */
const MAX_BEHIND = 5000;
const BEAT = 15_000;

/**
 * The live stream of a browser. One that does not read does not hold others up: what waits for it is bounded.
 *
 * @param wanted which messages it gets
 */
export function liveStream(c: Context, news: News, wanted: (m: LiveMessage) => boolean): Response {
  const last = c.req.header("last-event-id") ?? c.req.query("after");
  return streamSSE(c, async (stream) => {
    let behind = 0;
    const give = (m: LiveMessage): void => {
      if (stream.aborted || stream.closed || !wanted(m)) return;
      if (++behind > MAX_BEHIND) {
        stream.abort();
        return;
      }
      inBackground(
        "a live stream",
        stream.writeSSE({ id: news.idOf(m), data: JSON.stringify(m) }).finally(() => behind--),
      );
    };
    const unlisten = news.listen(give);
    stream.onAbort(unlisten);
    try {
      for (const m of news.since(last)) give(m);
      // At once, so that who listens knows that it is heard.
      await stream.writeSSE({ event: "beat", data: "" });
      while (!stream.aborted && !stream.closed) {
        await stream.sleep(BEAT);
        await stream.writeSSE({ event: "beat", data: "" });
      }
    } finally {
      unlisten();
    }
  });
}
