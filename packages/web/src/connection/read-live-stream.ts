import type { Told } from "./kept-messages";

/** Whether the server answers; `resynchronising` while what was missed is asked for. */
export type ConnectionStatus = "online" | "offline" | "resynchronising";

/** What a live stream gives: the server's messages as they came, and the state of the connection to it. */
export type StreamItem = Told | { readonly status: ConnectionStatus };

const RETRY = 2000;

/** The part of an event source that is used; tests give one of their own. */
export interface Source {
  readonly readyState: number;
  onopen: ((e: Event) => void) | null;
  onmessage: ((e: MessageEvent<string>) => void) | null;
  onerror: ((e: Event) => void) | null;
  close(): void;
}
const CLOSED = 2;

/**
 * Reads the server's live stream and passes its messages on, as they are: the thread that reads for all tabs starts
 * with each first one, and has nothing else to load. After a break it names the last message that it has: the
 * server sends those that were missed, or says that everything has to be asked for again.
 *
 * @param after the message to begin after: all that is shown was asked for later; "" where that is not known
 * @returns what ends it
 */
export function readLiveStream(
  give: (m: StreamItem) => void,
  after: string,
  open: (url: string) => Source = (url) => new EventSource(url),
): () => void {
  let source: Source | undefined;
  let retry: ReturnType<typeof setTimeout> | undefined;
  let last = after;
  let closed = false;
  const connect = (): void => {
    if (closed) return;
    source = open(`/api/events?jobs=all${last === "" ? "" : `&after=${encodeURIComponent(last)}`}`);
    source.onopen = () => give({ status: "online" });
    source.onmessage = (e) => {
      if (e.lastEventId !== "") last = e.lastEventId;
      give({ id: e.lastEventId, text: e.data });
    };
    source.onerror = () => {
      give({ status: "offline" });
      // A stream that was refused does not come back by itself.
      if (source?.readyState !== CLOSED) return;
      clearTimeout(retry);
      retry = setTimeout(connect, RETRY);
    };
  };
  connect();
  return () => {
    closed = true;
    clearTimeout(retry);
    source?.close();
  };
}
