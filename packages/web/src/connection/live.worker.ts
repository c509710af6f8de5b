import { readLiveStream, type ConnectionStatus } from "./read-live-stream";

/**
 * The live stream of all tabs: a browser opens few connections to one server, and a stream for every tab would leave
 * none for anything else.
 */
interface SharedScope {
  onconnect: ((e: MessageEvent) => void) | null;
}

const ports = new Set<MessagePort>();
let stop: (() => void) | undefined;
let status: ConnectionStatus | undefined;

(self as unknown as SharedScope).onconnect = (e) => {
  const [port] = e.ports;
  if (!port) return;
  ports.add(port);
  port.onmessage = (m) => {
    if (m.data !== "bye") return;
    ports.delete(port);
    if (ports.size > 0) return;
    stop?.();
    stop = undefined;
  };
  port.start();
  // A tab that comes later gets what the others have been told: the connection's state, and to ask for everything.
  if (status !== undefined) port.postMessage({ status });
  stop ??= readLiveStream((m) => {
    if ("status" in m) ({ status } = m);
    ports.forEach((p) => p.postMessage(m));
  });
};
