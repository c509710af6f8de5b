import { useEffect, useRef, type RefObject } from "react";
import { drawOverlay, type Overlay } from "./overlay";
import { Scene } from "./scene";

export interface ShownScene {
  /** What the scene is drawn in, and what lies over it. */
  readonly hostRef: RefObject<HTMLDivElement | null>;
  readonly overlayRef: RefObject<HTMLCanvasElement | null>;
  /** There while the page shows it. */
  readonly sceneRef: RefObject<Scene | undefined>;
}

/** A scene that shows what it is given; a new one where the domain is another one. */
export function useScene(shown: Overlay): ShownScene {
  const hostRef = useRef<HTMLDivElement>(null);
  const overlayRef = useRef<HTMLCanvasElement>(null);
  const latest = useRef(shown);
  const sceneRef = useRef<Scene | undefined>(undefined);
  const key = shown.outline.bounds.join(" ");
  useEffect(() => {
    const element = hostRef.current;
    if (!element) return;
    const made = new Scene(element, latest.current.outline.bounds, () => {
      if (sceneRef.current) drawOverlay(overlayRef.current!, element, latest.current, sceneRef.current);
    });
    sceneRef.current = made;
    made.update(latest.current);
    const watch = new ResizeObserver(() => made.resize());
    watch.observe(element);
    return () => {
      watch.disconnect();
      made.dispose();
      sceneRef.current = undefined;
    };
  }, [key]);
  useEffect(() => {
    latest.current = shown;
    sceneRef.current?.update(shown);
  });
  return { hostRef, overlayRef, sceneRef };
}
