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
  "DOMRect",
  "requestAnimationFrame",
  "cancelAnimationFrame",
] as const;
for (const name of names)
  Object.defineProperty(globalThis, name, { value: window[name as never], configurable: true, writable: true });
Object.defineProperty(globalThis, "navigator", { value: window.navigator, configurable: true });
Object.defineProperty(window, "matchMedia", {
  value: () => ({ matches: false, addEventListener: () => undefined, removeEventListener: () => undefined }),
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
