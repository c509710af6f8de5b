import { evenTicks } from "@oxtrum/core/charts";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import type { Scene, SceneProps } from "./scene";
import { handlesOf, type Triple } from "./sites";

/** What lies over the scene: rulers along three edges of the domain, the sites' handles and names. */
export interface Overlay extends SceneProps {
  /** The place on the selected line that the chart's cursor points at. */
  readonly mark: Triple | undefined;
}

/** Draws the overlay anew. */
export function drawOverlay(canvas: HTMLCanvasElement, host: HTMLElement, p: Overlay, scene: Scene): void {
  const scale = window.devicePixelRatio;
  canvas.width = host.clientWidth * scale;
  canvas.height = host.clientHeight * scale;
  canvas.style.width = `${host.clientWidth}px`;
  canvas.style.height = `${host.clientHeight}px`;
  const ctx = canvas.getContext("2d")!;
  ctx.scale(scale, scale);
  ctx.font = '11px "IBM Plex Mono", monospace';
  ctx.textBaseline = "middle";
  rulers(ctx, p, scene);
  const paper = p.dark ? "#16191B" : "#FFFFFF";
  const [oxide, patina] = p.dark ? ["#E0754F", "#5DB5A6"] : ["#AC4427", "#2C7A70"];
  const dot = (place: Triple, fill: string, stroke: string, r: number): void => {
    ctx.beginPath();
    ctx.arc(...scene.project(place), r, 0, 2 * Math.PI);
    ctx.fillStyle = fill;
    ctx.strokeStyle = stroke;
    ctx.lineWidth = 1.6;
    ctx.fill();
    ctx.stroke();
  };
  for (const { name, drawing } of p.drawings) {
    for (let i = 0; i + 2 < drawing.dots.length; i += 3)
      dot([drawing.dots[i]!, drawing.dots[i + 1]!, drawing.dots[i + 2]!], patina, paper, 3);
    const [x, y, z] = drawing.lines.length > 0 ? drawing.lines : drawing.dots;
    if (x !== undefined) label(ctx, name, scene.project([x, y!, z!]), patina, paper);
  }
  for (const s of p.sites) {
    const chosen = s.name === p.selected;
    const color = chosen ? oxide : patina;
    if (s.kind === "grid")
      for (let k = 0; k < s.count[2]; k++)
        for (let j = 0; j < s.count[1]; j++)
          for (let i = 0; i < s.count[0]; i++)
            if (i + j + k > 0 && s.count[0] * s.count[1] * s.count[2] <= 3000)
              dot(
                [s.origin[0] + i * s.step[0], s.origin[1] + j * s.step[1], s.origin[2] + k * s.step[2]],
                color,
                paper,
                2.5,
              );
    for (const h of handlesOf(s, p.outline.bounds)) {
      // The start of a line is filled, its end open; the handles that move the whole show on the chosen site.
      if (h.part === "from") dot(h.place, color, paper, 5);
      else if (h.part === "to") dot(h.place, paper, color, 4);
      else if (s.kind === "points" || s.kind === "grid") dot(h.place, color, paper, 4.5);
      else if (chosen) dot(h.place, paper, color, 3);
    }
  }
  if (p.mark) dot(p.mark, "transparent", p.dark ? "#ECE8DF" : "#1F2629", 6);
}

function label(
  ctx: CanvasRenderingContext2D,
  text: string,
  [x, y]: readonly [number, number],
  color: string,
  paper: string,
): void {
  ctx.textAlign = "left";
  ctx.lineWidth = 3;
  ctx.strokeStyle = paper;
  ctx.strokeText(text, x + 7, y - 8);
  ctx.fillStyle = color;
  ctx.fillText(text, x + 7, y - 8);
}

function rulers(ctx: CanvasRenderingContext2D, p: Overlay, scene: Scene): void {
  const b = p.outline.bounds;
  const ink = p.dark ? "#9BA5A4" : "#5F6B6D";
  const centre = scene.project([0, 1, 2].map((k) => (b[2 * k]! + b[2 * k + 1]!) / 2) as unknown as Triple);
  ctx.strokeStyle = ink;
  ctx.fillStyle = ink;
  ctx.lineWidth = 1;
  const unit = p.outline.lengthUnit === null ? "" : ` ${p.outline.lengthUnit}`;
  for (let k = 0; k < 3; k++) {
    if (!(b[2 * k + 1]! > b[2 * k]!)) continue;
    const edge = rulerEdge(b, k, scene, centre);
    const at = (v: number): Triple => edge.map((e, d) => (d === k ? v : e)) as unknown as Triple;
    const [a0, a1] = [scene.project(at(b[2 * k]!)), scene.project(at(b[2 * k + 1]!))];
    const along = [a1[0] - a0[0], a1[1] - a0[1]] as const;
    const length = Math.hypot(...along);
    // Seen nearly from its end a ruler has no room for its numbers.
    if (length < 24) continue;
    let out = [-along[1] / length, along[0] / length] as [number, number];
    if (out[0] * (a0[0] + a1[0] - 2 * centre[0]) + out[1] * (a0[1] + a1[1] - 2 * centre[1]) < 0)
      out = [-out[0], -out[1]];
    const ticks = evenTicks(b[2 * k]!, b[2 * k + 1]!, Math.max(2, Math.min(7, Math.floor(length / 32))));
    ctx.textAlign = out[0] < -0.5 ? "right" : out[0] > 0.5 ? "left" : "center";
    for (const t of ticks) {
      const [x, y] = scene.project(at(t));
      ctx.beginPath();
      ctx.moveTo(x, y);
      ctx.lineTo(x + 7 * out[0], y + 7 * out[1]);
      ctx.stroke();
      ctx.fillText(formatNumber(t, 4), x + 11 * out[0], y + 15 * out[1]);
    }
    ctx.beginPath();
    ctx.moveTo(...a0);
    ctx.lineTo(...a1);
    ctx.stroke();
    const name = `${"xyz"[k]!}${unit}${scene.stretch[k] === 1 ? "" : ` (drawn ${scene.stretch[k]}×)`}`;
    const [mx, my] = [(a0[0] + a1[0]) / 2, (a0[1] + a1[1]) / 2];
    ctx.save();
    ctx.font = '12px "IBM Plex Sans", sans-serif';
    if (Math.abs(along[1]) > 2 * Math.abs(along[0])) {
      // An upright ruler has its name over its upper end.
      const top = a0[1] < a1[1] ? a0 : a1;
      ctx.textAlign = "left";
      ctx.fillText(name, top[0] - 8, top[1] - 16);
    } else {
      const wide = ctx.textAlign === "center" ? 0 : 7 * (1 + Math.max(...ticks.map((t) => formatNumber(t, 4).length)));
      ctx.fillText(name, mx + out[0] * (16 + wide), my + out[1] * (wide === 0 ? 33 : 20));
    }
    ctx.restore();
  }
}

/** Of the four edges along an axis the one to read it by: level axes below, the upright one at the left. */
function rulerEdge(b: readonly number[], k: number, scene: Scene, centre: readonly [number, number]): number[] {
  const others = [0, 1, 2].filter((d) => d !== k) as [number, number];
  let best: number[] = [0, 0, 0];
  let far = -Infinity;
  for (const u of [0, 1])
    for (const v of [0, 1]) {
      const edge = [0, 0, 0];
      edge[k] = (b[2 * k]! + b[2 * k + 1]!) / 2;
      edge[others[0]] = b[2 * others[0] + u]!;
      edge[others[1]] = b[2 * others[1] + v]!;
      const [x, y] = scene.project(edge as unknown as Triple);
      const [p, q] = [0, 1].map((side) =>
        scene.project(edge.map((e, d) => (d === k ? b[2 * k + side]! : e)) as unknown as Triple),
      ) as [[number, number], [number, number]];
      const steep = Math.abs(q[1] - p[1]) > 2 * Math.abs(q[0] - p[0]);
      const score = steep ? centre[0] - x : y - centre[1];
      if (score > far) [far, best] = [score, edge];
    }
  return best;
}
