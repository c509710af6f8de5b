import { KeptMessages } from "./kept-messages";
import { readLiveStream, type ConnectionStatus } from "./read-live-stream";

/**
 * The live stream of all tabs: a browser opens few connections to one server, and a stream for every tab would leave
 * none for anything else.
 */
interface SharedScope {
  onconnect: ((e: MessageEvent) => void) | null;
}

/** What a tab says: that it is there, with the message after which its page was served, or that it goes. */
export type TabMessage = { readonly after: string } | "bye";

const ports = new Set<MessagePort>();
let stop: (() => void) | undefined;
let status: ConnectionStatus | undefined;
let kept: KeptMessages;

/** The first tab begins the stream; a later one gets what the others were told since its page was served. */
function greet(port: MessagePort, after: string): void {
  ports.add(port);
  if (stop) {
    if (status !== undefined) port.postMessage({ status });
    for (const text of kept.since(after)) port.postMessage({ text });
    return;
  }
  kept = new KeptMessages(after);
  stop = readLiveStream((m) => {
    if ("status" in m) ({ status } = m);
    else kept.add(m);
    ports.forEach((p) => p.postMessage(m));
  }, after);
}

(self as unknown as SharedScope).onconnect = (e) => {
  const [port] = e.ports;
  if (!port) return;
  port.onmessage = ({ data }: MessageEvent<TabMessage>) => {
    if (data !== "bye") return greet(port, data.after);
    ports.delete(port);
    if (ports.size > 0) return;
    stop?.();
    stop = undefined;
    status = undefined;
  };
  port.start();
};
