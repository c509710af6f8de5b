import { readLiveStream, type LiveItem } from "./live-messages";

type Listener = (m: LiveItem) => void;

const listeners = new Set<Listener>();
let begun = false;

/** Begins with the first listener: through a worker that all tabs share, where the browser has such. */
function begin(): void {
  if (begun) return;
  begun = true;
  const give = (m: LiveItem): void => listeners.forEach((l) => l(m));
  if (typeof SharedWorker === "undefined") {
    readLiveStream(give);
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
    readLiveStream(give);
  };
  worker.port.onmessage = (e: MessageEvent<LiveItem>) => give(e.data);
  worker.port.start();
  window.addEventListener("pagehide", () => worker.port.postMessage("bye"));
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
