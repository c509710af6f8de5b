import { useRef, useState, type MouseEvent, type PointerEvent } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import type { Overlay } from "./overlay";
import type { Scene } from "./scene";
import { handlesOf, moved, snapped, type Handle, type SurveySite, type Triple } from "./sites";
import type { ShownScene } from "./use-scene";

/** What the pointer works on, and who is told. */
export interface Pointed extends Overlay {
  readonly quantity: string;
  onMove(site: SurveySite, to: SurveySite): void;
  onChoose(name: string): void;
  onPlace(place: Triple): void;
}

interface Drag {
  readonly site: SurveySite;
  readonly handle: Handle;
  readonly x: number;
  readonly y: number;
}

/** How near to a handle the pointer has to be, px. */
const NEAR = 10;

/** The handle under the pointer; those of the chosen site come first. */
function handleAt(s: Scene, p: Pointed, x: number, y: number): { site: SurveySite; handle: Handle } | undefined {
  const order = [...p.sites].sort((a, b) => Number(b.name === p.selected) - Number(a.name === p.selected));
  for (const site of order)
    for (const handle of handlesOf(site, p.outline.bounds)) {
      if (handle.part === "plane" && site.name !== p.selected) continue;
      const [hx, hy] = s.project(handle.place);
      if (Math.hypot(hx - x, hy - y) <= NEAR) return { site, handle };
    }
  return undefined;
}

/** What lies under the pointer: the value of the picture, or the name of a patch that has one. */
function underText(under: ReturnType<Scene["under"]>, p: Pointed): string | undefined {
  if (!under) return undefined;
  if (under.kind === "value")
    return (
      `${p.quantity} ${formatNumber(under.value, 5)} ${displayUnit(p.picture?.unit ?? null)} ` +
      `at ${under.place.map((v) => formatNumber(v, 4)).join(", ")}`
    );
  const name = p.outline.patches[under.patch]!;
  return name === "" ? undefined : name;
}

/** Sites are taken hold of and moved; beside the pointer stands what is under it. */
export function usePointer(p: Pointed, { hostRef, sceneRef }: ShownScene) {
  const drag = useRef<Drag | undefined>(undefined);
  const marked = useRef<number | undefined>(undefined);
  const [note, setNote] = useState<{ x: number; y: number; text: string } | undefined>();
  const place = (e: MouseEvent): [number, number] => {
    const box = hostRef.current!.getBoundingClientRect();
    return [e.clientX - box.left, e.clientY - box.top];
  };
  const down = (e: PointerEvent): void => {
    const s = sceneRef.current;
    if (e.button !== 0 || !s) return;
    const [x, y] = place(e);
    const found = handleAt(s, p, x, y);
    if (!found) return;
    // The scene stays still while a site is moved.
    s.turning = false;
    drag.current = { ...found, x, y };
    hostRef.current!.setPointerCapture(e.pointerId);
    p.onChoose(found.site.name);
    e.stopPropagation();
  };
  const dragged = (s: Scene, d: Drag, x: number, y: number): void => {
    const to = snapped(s.shifted(d.handle.place, x - d.x, y - d.y, d.handle.axis), p.outline.bounds);
    const now = p.sites.find((q) => q.name === d.site.name);
    if (now) p.onMove(now, moved(d.site, d.handle, to));
    const told = d.handle.axis === undefined ? to : [to[d.handle.axis]!];
    setNote({ x, y, text: told.map((v) => formatNumber(v, 5)).join(", ") });
  };
  const move = (e: PointerEvent): void => {
    const s = sceneRef.current;
    if (!s) return;
    const [x, y] = place(e);
    if (drag.current) return dragged(s, drag.current, x, y);
    hostRef.current!.style.cursor = handleAt(s, p, x, y) ? "move" : "";
    if (e.buttons !== 0) return setNote(undefined);
    const under = s.under(x, y);
    const text = underText(under, p);
    const patch = under?.kind === "patch" && text !== undefined ? under.patch : undefined;
    if (patch !== marked.current) s.mark((marked.current = patch));
    setNote(text === undefined ? undefined : { x, y, text });
  };
  const up = (e: PointerEvent): void => {
    if (!drag.current) return;
    drag.current = undefined;
    if (sceneRef.current) sceneRef.current.turning = true;
    hostRef.current!.releasePointerCapture(e.pointerId);
    setNote(undefined);
  };
  const twice = (e: MouseEvent): void => {
    const under = sceneRef.current?.under(...place(e));
    if (under) p.onPlace(snapped(under.place, p.outline.bounds));
  };
  return { note, down, move, up, twice, leave: () => setNote(undefined) };
}
