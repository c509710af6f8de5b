import { liveMessageSchema, type LiveMessage } from "@oxtrum/contract";
import type { TabMessage } from "./live.worker";
import { readLiveStream, type ConnectionStatus, type StreamItem } from "./read-live-stream";

/** What is listened to: the server's messages, and the state of the connection to it. */
export type LiveItem = LiveMessage | { readonly status: ConnectionStatus };

type Listener = (m: LiveItem) => void;

const listeners = new Set<Listener>();
let begun = false;

/** A message that fits the contract, or a state; undefined for what a later server may say. */
export function liveItem(item: StreamItem | { readonly text: string }): LiveItem | undefined {
  if ("status" in item) return item;
  try {
    return liveMessageSchema.parse(JSON.parse(item.text));
  } catch {
    return undefined;
  }
}

/** The message after which this page was served; "" from a server that does not say so. */
const servedAfter = (): string => document.querySelector<HTMLMetaElement>('meta[name="oxtrum-news"]')?.content ?? "";

/** Begins with the first listener: through a worker that all tabs share, where the browser has such. */
function begin(): void {
  if (begun) return;
  begun = true;
  const give = (item: StreamItem): void => {
    const m = liveItem(item);
    if (m) listeners.forEach((l) => l(m));
  };
  if (typeof SharedWorker === "undefined") {
    readLiveStream(give, servedAfter());
    return;
  }
  const worker = new SharedWorker(new URL("./live.worker.ts", import.meta.url), {
    type: "module",
    name: "oxtrum live",
  });
  // Where the worker cannot be loaded, as of a server that has just ended, this tab reads by itself.
  worker.onerror = () => {
    worker.port.onmessage = null;
    give({ status: "offline" });
    readLiveStream(give, servedAfter());
  };
  worker.port.onmessage = (e: MessageEvent<StreamItem>) => give(e.data);
  worker.port.start();
  const say = (m: TabMessage): void => worker.port.postMessage(m);
  say({ after: servedAfter() });
  window.addEventListener("pagehide", () => say("bye"));
  // A page that comes back from the browser's own store has said good-bye.
  window.addEventListener("pageshow", (e) => {
    if (e.persisted) window.location.reload();
  });
}

/** Listens to the server's live stream. @returns what ends it */
export function listenLive(l: Listener): () => void {
  begin();
  listeners.add(l);
  return () => void listeners.delete(l);
}
