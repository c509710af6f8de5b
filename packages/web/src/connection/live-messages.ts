/** A message of the server's live stream, or word that the stream was broken and is there again. */
export type LiveMessage =
  | { readonly resync: true }
  | {
      readonly job?: number;
      readonly state?: string;
      readonly events?: readonly { readonly type: string }[];
      readonly after?: number;
      readonly study?: string;
    };

const RETRY = 3000;

/**
 * Reads the server's live stream and gives its messages on. After every break it connects again and says so: what a
 * page shows may then be old.
 *
 * @returns what ends it
 */
export function readLiveStream(give: (m: LiveMessage) => void): () => void {
  let source: EventSource | undefined;
  let retry: ReturnType<typeof setTimeout> | undefined;
  let opened = false;
  let closed = false;
  const connect = (): void => {
    if (closed) return;
    source = new EventSource("/api/events?jobs=all");
    source.onopen = () => {
      if (opened) give({ resync: true });
      opened = true;
    };
    source.onmessage = (e: MessageEvent<string>) => give(JSON.parse(e.data) as LiveMessage);
    source.onerror = () => {
      // A stream that was refused does not come back by itself.
      if (source?.readyState !== EventSource.CLOSED) return;
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
