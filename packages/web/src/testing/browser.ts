import "fake-indexeddb/auto";
import { JSDOM } from "jsdom";

/** A browser for tests of components, in this process: window and document, an address, and what pages ask of them. */
const dom = new JSDOM("<!doctype html><body></body>", { url: "http://127.0.0.1:4477/", pretendToBeVisual: true });
const { window } = dom;
const names = [
  "window",
  "document",
  "HTMLElement",
  "HTMLInputElement",
  "HTMLSelectElement",
  "HTMLFormElement",
  "HTMLButtonElement",
  "Element",
  "Node",
  "NodeFilter",
  "DocumentFragment",
  "MutationObserver",
  "Event",
  "MouseEvent",
  "KeyboardEvent",
  "CustomEvent",
  "getComputedStyle",
  "localStorage",
  "sessionStorage",
  "SVGElement",
  "Window",
  "Range",
  "DOMRect",
  "requestAnimationFrame",
  "cancelAnimationFrame",
] as const;
/** What is not shown, as its own style says. */
const gone = window.document.createElement("p").style;
gone.display = "none";
/**
 * No sheet of styles is there: what an element says itself is all. Finding things by what they are called asks for this
 * thousands of times, and rules of a browser's own sheet would be tried on each element.
 */
window.getComputedStyle = (element) => ((element as HTMLElement).hidden ? gone : (element as HTMLElement).style);
for (const name of names)
  Object.defineProperty(globalThis, name, { value: window[name as never], configurable: true, writable: true });
Object.defineProperty(globalThis, "navigator", { value: window.navigator, configurable: true });
Object.defineProperty(window, "matchMedia", {
  value: () => ({ matches: false, addEventListener: () => undefined, removeEventListener: () => undefined }),
  writable: true,
});
// Nothing is drawn here: fonts are there at once.
Object.defineProperty(window.document, "fonts", { value: { load: () => Promise.resolve([]) } });
class Still {
  observe(): void {
    // Nothing has a size here.
  }
  unobserve(): void {
    // As above.
  }
  disconnect(): void {
    // As above.
  }
}
Object.assign(window, { ResizeObserver: Still, IntersectionObserver: Still });
Object.assign(globalThis, { ResizeObserver: Still, IntersectionObserver: Still, IS_REACT_ACT_ENVIRONMENT: true });

/** Addresses without a host are those of the page. */
const Plain = globalThis.Request;
globalThis.Request = class extends Plain {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === "string" ? new URL(input, window.location.href) : input, init);
  }
};

/** Lets requests of pages go to an application in this process: no port, no stand-in answers. */
export function serve(request: (r: Request) => Response | Promise<Response>): void {
  globalThis.fetch = async (input, init) => {
    const r = new Request(input as Request, init);
    r.headers.set("host", window.location.host);
    return request(r);
  };
}

/** The server's live stream, read from its answer as a browser does (HTML standard, server-sent events). */
globalThis.EventSource = class {
  readyState = 0;
  onopen: ((e: Event) => void) | null = null;
  onmessage: ((e: MessageEvent<string>) => void) | null = null;
  onerror: ((e: Event) => void) | null = null;
  #reader: ReadableStreamDefaultReader<Uint8Array> | undefined;

  constructor(url: string) {
    void this.#read(url).catch(() => this.#end());
  }

  async #read(url: string): Promise<void> {
    const { body } = await fetch(url);
    this.#reader = body!.getReader();
    this.readyState = 1;
    this.onopen?.(new Event("open"));
    const decoder = new TextDecoder();
    let text = "";
    for (;;) {
      const { value, done } = await this.#reader.read();
      if (done) return this.#end();
      text += decoder.decode(value, { stream: true });
      const events = text.split("\n\n");
      text = events.pop()!;
      for (const e of events) this.#give(e);
    }
  }

  #give(event: string): void {
    const all = (name: string): string[] =>
      event.split("\n").flatMap((l) => (l.startsWith(`${name}:`) ? [l.slice(name.length + 1).trimStart()] : []));
    if (all("data").length > 0)
      this.onmessage?.({ data: all("data").join("\n"), lastEventId: all("id")[0] ?? "" } as MessageEvent<string>);
  }

  #end(): void {
    if (this.readyState === 2) return;
    this.readyState = 2;
    this.onerror?.(new Event("error"));
  }

  close(): void {
    this.readyState = 2;
    void this.#reader?.cancel();
  }
} as unknown as typeof EventSource;
