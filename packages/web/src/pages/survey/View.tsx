import { useEffect, useRef, useState, type PointerEvent, type ReactElement } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import { drawOverlay, type Overlay } from "./overlay";
import { Scene } from "./scene";
import { handlesOf, moved, type Handle, type SurveySite, type Triple } from "./sites";

interface Props extends Overlay {
  readonly quantity: string;
  onMove(site: SurveySite, to: SurveySite): void;
  onChoose(name: string): void;
  onPlace(place: Triple): void;
}

const canDraw = (): boolean => document.createElement("canvas").getContext("webgl2") !== null;

/** How near to a handle the pointer has to be, px. */
const NEAR = 10;

/** A step that places snap to: a round share of the domain's size in that direction. */
const grain = (size: number): number => (size > 0 ? 10 ** Math.floor(Math.log10(size / 100)) : 1);

/** Within the domain, on round numbers. */
const snapped = (p: Triple, b: readonly number[]): Triple =>
  p.map((v, k) => {
    const step = grain(b[2 * k + 1]! - b[2 * k]!);
    const inside = Math.min(b[2 * k + 1]!, Math.max(b[2 * k]!, v));
    const round = Number((Math.round(inside / step) * step).toPrecision(12));
    return round < b[2 * k]! || round > b[2 * k + 1]! ? inside : round;
  }) as unknown as Triple;

interface Drag {
  readonly site: SurveySite;
  readonly handle: Handle;
  readonly x: number;
  readonly y: number;
  readonly name: string;
}

/** The domain: its edges with rulers along them, a picture of a field, and the sites, which can be taken hold of. */
export function View(props: Props): ReactElement {
  const host = useRef<HTMLDivElement>(null);
  const overlay = useRef<HTMLCanvasElement>(null);
  const latest = useRef(props);
  const scene = useRef<Scene | undefined>(undefined);
  const drag = useRef<Drag | undefined>(undefined);
  const marked = useRef<number | undefined>(undefined);
  const [note, setNote] = useState<{ x: number; y: number; text: string } | undefined>();
  const [drawable] = useState(canDraw);
  const key = props.outline.bounds.join(" ");

  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const made = new Scene(element, latest.current.outline.bounds, () => {
      if (scene.current) drawOverlay(overlay.current!, element, latest.current, scene.current);
    });
    scene.current = made;
    made.update(latest.current);
    const watch = new ResizeObserver(() => made.resize());
    watch.observe(element);
    return () => {
      watch.disconnect();
      made.dispose();
      scene.current = undefined;
    };
  }, [key]);
  useEffect(() => {
    latest.current = props;
    scene.current?.update(props);
  });

  const place = (e: PointerEvent | React.MouseEvent): [number, number] => {
    const box = host.current!.getBoundingClientRect();
    return [e.clientX - box.left, e.clientY - box.top];
  };
  /** The handle under the pointer; those of the chosen site come first. */
  const handleAt = (x: number, y: number): { site: SurveySite; handle: Handle } | undefined => {
    const s = scene.current;
    if (!s) return undefined;
    const order = [...props.sites].sort(
      (a, b) => Number(b.name === props.selected) - Number(a.name === props.selected),
    );
    for (const site of order)
      for (const handle of handlesOf(site, props.outline.bounds)) {
        if (handle.part === "plane" && site.name !== props.selected) continue;
        const [hx, hy] = s.project(handle.place);
        if (Math.hypot(hx - x, hy - y) <= NEAR) return { site, handle };
      }
    return undefined;
  };
  const down = (e: PointerEvent): void => {
    if (e.button !== 0 || !scene.current) return;
    const [x, y] = place(e);
    const found = handleAt(x, y);
    if (!found) return;
    // The scene stays still while a site is moved.
    scene.current.turning = false;
    drag.current = { ...found, x, y, name: found.site.name };
    host.current!.setPointerCapture(e.pointerId);
    props.onChoose(found.site.name);
    e.stopPropagation();
  };
  const move = (e: PointerEvent): void => {
    const s = scene.current;
    if (!s) return;
    const [x, y] = place(e);
    const d = drag.current;
    if (d) {
      const to = snapped(s.shifted(d.handle.place, x - d.x, y - d.y, d.handle.axis), props.outline.bounds);
      const now = props.sites.find((q) => q.name === d.name);
      if (now) props.onMove(now, moved(d.site, d.handle, to));
      setNote({
        x,
        y,
        text: (d.handle.axis === undefined ? to : [to[d.handle.axis]!]).map((v) => formatNumber(v, 5)).join(", "),
      });
      return;
    }
    host.current!.style.cursor = handleAt(x, y) ? "move" : "";
    if (e.buttons !== 0) return setNote(undefined);
    const under = s.under(x, y);
    const patch = under?.kind === "patch" && props.outline.patches[under.patch] !== "" ? under.patch : undefined;
    if (patch !== marked.current) s.mark((marked.current = patch));
    if (!under) setNote(undefined);
    else if (under.kind === "value")
      setNote({
        x,
        y,
        text:
          `${props.quantity} ${formatNumber(under.value, 5)} ${displayUnit(props.picture?.unit ?? null)} ` +
          `at ${under.place.map((v) => formatNumber(v, 4)).join(", ")}`,
      });
    else setNote(patch === undefined ? undefined : { x, y, text: props.outline.patches[patch]! });
  };
  const up = (e: PointerEvent): void => {
    if (!drag.current) return;
    drag.current = undefined;
    if (scene.current) scene.current.turning = true;
    host.current!.releasePointerCapture(e.pointerId);
    setNote(undefined);
  };
  const twice = (e: React.MouseEvent): void => {
    const under = scene.current?.under(...place(e));
    if (under) props.onPlace(snapped(under.place, props.outline.bounds));
  };
  if (!drawable)
    return (
      <p className="dim p-6">
        This browser draws no 3D pictures here (WebGL is off). The sites' values are still computed at the right.
      </p>
    );
  return (
    <div
      ref={host}
      className="absolute inset-0 cursor-grab active:cursor-grabbing"
      role="img"
      aria-label="The domain with its sites"
      onPointerDownCapture={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      onPointerLeave={() => setNote(undefined)}
      onDoubleClick={twice}
    >
      <canvas ref={overlay} className="pointer-events-none absolute inset-0" />
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
