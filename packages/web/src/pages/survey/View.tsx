import { useState, type ReactElement } from "react";
import { usePointer, type Pointed } from "./use-pointer";
import { useScene } from "./use-scene";

const canDraw = (): boolean => document.createElement("canvas").getContext("webgl2") !== null;

/** The domain: its edges with rulers along them, a picture of a field, and the sites, which can be taken hold of. */
export function View(props: Pointed): ReactElement {
  const shown = useScene(props);
  const { note, down, move, up, twice, leave } = usePointer(props, shown);
  const { hostRef, overlayRef } = shown;
  const [drawable] = useState(canDraw);
  if (!drawable)
    return (
      <p className="dim p-6">
        This browser draws no 3D pictures here (WebGL is off). The sites' values are still computed at the right.
      </p>
    );
  return (
    <div
      ref={hostRef}
      className="absolute inset-0 cursor-grab active:cursor-grabbing"
      role="img"
      aria-label="The domain with its sites"
      onPointerDownCapture={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      onPointerLeave={leave}
      onDoubleClick={twice}
    >
      <canvas ref={overlayRef} className="pointer-events-none absolute inset-0" />
      {note && (
        <span
          className="num pointer-events-none absolute border border-rule bg-sheet px-1.5 py-0.5 text-[11px] whitespace-nowrap"
          style={{ left: note.x + 14, top: note.y + 14 }}
        >
          {note.text}
        </span>
      )}
    </div>
  );
}
