import { useEffect, useRef, type ReactElement } from "react";
import * as THREE from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { evenTicks } from "@oxtrum/core/charts";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { fieldColor } from "./colors";
import type { SurveySite, Triple } from "./sites";

export interface ViewPicture {
  readonly places: readonly number[];
  readonly values: readonly number[];
}

interface Props {
  readonly bounds: readonly number[];
  readonly edges: readonly number[];
  readonly surface: readonly number[];
  readonly picture: ViewPicture | undefined;
  readonly range: readonly [number, number];
  readonly sites: readonly SurveySite[];
  readonly selected: string | undefined;
  /** The place on the selected line that the chart's cursor points at. */
  readonly mark: Triple | undefined;
  readonly dark: boolean;
}

/** Puts a set of lines, triangles or colours into one piece of geometry. */
function geometry(places: ArrayLike<number>, colors?: Float32Array): THREE.BufferGeometry {
  const g = new THREE.BufferGeometry();
  g.setAttribute("position", new THREE.BufferAttribute(Float32Array.from(places), 3));
  if (colors) g.setAttribute("color", new THREE.BufferAttribute(colors, 3));
  return g;
}

/** Everything of one kind in the scene, replaced as a whole. */
class Layer {
  #object: THREE.Object3D | undefined;
  constructor(private readonly scene: THREE.Scene) {}
  set(object: THREE.Object3D | undefined): void {
    if (this.#object) {
      this.scene.remove(this.#object);
      this.#object.traverse((o) => (o as THREE.Mesh).geometry?.dispose());
    }
    this.#object = object;
    if (object) this.scene.add(object);
  }
}

/** The domain: its edges with rulers along them, a picture of a field, and the sites. Drawn when something changes. */
export function View(props: Props): ReactElement {
  const host = useRef<HTMLDivElement>(null);
  const overlay = useRef<HTMLCanvasElement>(null);
  const latest = useRef(props);
  const scene = useRef<{ update: () => void; draw: () => void } | undefined>(undefined);
  const key = props.bounds.join(" ");

  useEffect(() => {
    const element = host.current!;
    const renderer = new THREE.WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true });
    element.prepend(renderer.domElement);
    const world = new THREE.Scene();
    const b = latest.current.bounds;
    const middle = new THREE.Vector3((b[0]! + b[1]!) / 2, (b[2]! + b[3]!) / 2, (b[4]! + b[5]!) / 2);
    const reach = 0.5 * Math.hypot(b[1]! - b[0]!, b[3]! - b[2]!, b[5]! - b[4]!) || 1;
    const camera = new THREE.OrthographicCamera(-1, 1, 1, -1, -20 * reach, 20 * reach);
    camera.up.set(0, 0, 1);
    camera.position.set(middle.x - 0.9 * reach, middle.y - 1.5 * reach, middle.z + 0.8 * reach);
    const controls = new OrbitControls(camera, renderer.domElement);
    controls.target.copy(middle);
    controls.update();
    const layers = {
      surface: new Layer(world),
      edges: new Layer(world),
      picture: new Layer(world),
      sites: new Layer(world),
    };

    const project = (p: Triple): [number, number] => {
      const v = new THREE.Vector3(...p).project(camera);
      return [((v.x + 1) / 2) * element.clientWidth, ((1 - v.y) / 2) * element.clientHeight];
    };
    const draw = (): void => {
      renderer.render(world, camera);
      drawOverlay(overlay.current!, element, latest.current, project);
    };
    const resize = (): void => {
      const [w, h] = [element.clientWidth, element.clientHeight];
      if (w < 10 || h < 10) return;
      renderer.setPixelRatio(window.devicePixelRatio);
      renderer.setSize(w, h);
      const half = 1.15 * reach;
      camera.left = (-half * w) / h;
      camera.right = (half * w) / h;
      camera.top = half;
      camera.bottom = -half;
      camera.updateProjectionMatrix();
      draw();
    };
    const update = (): void => {
      const p = latest.current;
      const ink = p.dark ? 0xece8df : 0x1f2629;
      layers.surface.set(p.picture ? undefined : new THREE.Mesh(geometry(p.surface), new THREE.MeshBasicMaterial({ color: ink, transparent: true, opacity: 0.035, side: THREE.DoubleSide, depthWrite: false })));
      layers.edges.set(new THREE.LineSegments(geometry(p.edges), new THREE.LineBasicMaterial({ color: ink, transparent: true, opacity: 0.42 })));
      layers.picture.set(p.picture && pictureMesh(p.picture, p.range));
      layers.sites.set(siteLines(p));
      draw();
    }; // prettier-ignore
    controls.addEventListener("change", draw);
    const watch = new ResizeObserver(resize);
    watch.observe(element);
    scene.current = { update, draw };
    update();
    return () => {
      watch.disconnect();
      controls.dispose();
      renderer.dispose();
      renderer.domElement.remove();
      scene.current = undefined;
    };
  }, [key]);

  useEffect(() => {
    latest.current = props;
    scene.current?.update();
  });
  return (
    <div ref={host} className="absolute inset-0 cursor-grab active:cursor-grabbing" role="img" aria-label="The domain with its sites">
      <canvas ref={overlay} className="pointer-events-none absolute inset-0" />
    </div>
  ); // prettier-ignore
}

function pictureMesh(p: ViewPicture, range: readonly [number, number]): THREE.Mesh {
  const colors = new Float32Array(3 * p.values.length);
  const span = range[1] - range[0] || 1;
  const c = new THREE.Color();
  p.values.forEach((v, i) => {
    c.setRGB(...fieldColor((v - range[0]) / span), THREE.SRGBColorSpace);
    colors.set([c.r, c.g, c.b], 3 * i);
  });
  return new THREE.Mesh(
    geometry(p.places, colors),
    new THREE.MeshBasicMaterial({ vertexColors: true, side: THREE.DoubleSide }),
  );
}

function siteLines(p: Props): THREE.Group {
  const group = new THREE.Group();
  for (const s of p.sites) {
    const color = s.name === p.selected ? (p.dark ? 0xe0754f : 0xac4427) : p.dark ? 0x5db5a6 : 0x2c7a70;
    const material = new THREE.LineBasicMaterial({ color, depthTest: false, transparent: true });
    if (s.kind === "line") group.add(new THREE.Line(geometry([...s.from, ...s.to]), material));
    else if (s.kind === "plane") group.add(new THREE.LineLoop(geometry(planeFrame(p.bounds, s.axis, s.at)), material));
  }
  group.renderOrder = 10;
  return group;
}

function planeFrame(b: readonly number[], axis: "x" | "y" | "z", at: number): number[] {
  const k = "xyz".indexOf(axis);
  const [i, j] = [0, 1, 2].filter((d) => d !== k) as [number, number];
  return [[0, 0], [1, 0], [1, 1], [0, 1]].flatMap(([u, v]) => {
    const p = [0, 0, 0];
    p[k] = at;
    p[i] = b[2 * i + u!]!;
    p[j] = b[2 * j + v!]!;
    return p;
  }); // prettier-ignore
}

/** Rulers along three edges, markers of sites, and the cursor's place. */
function drawOverlay(
  canvas: HTMLCanvasElement,
  host: HTMLElement,
  p: Props,
  project: (p: Triple) => [number, number],
): void {
  const scale = window.devicePixelRatio;
  canvas.width = host.clientWidth * scale;
  canvas.height = host.clientHeight * scale;
  canvas.style.width = `${host.clientWidth}px`;
  canvas.style.height = `${host.clientHeight}px`;
  const ctx = canvas.getContext("2d")!;
  ctx.scale(scale, scale);
  ctx.font = '11px "IBM Plex Mono", monospace';
  ctx.textAlign = "center";
  ctx.textBaseline = "middle";
  const b = p.bounds;
  const ink = p.dark ? "#9BA5A4" : "#5F6B6D";
  const centre = project([(b[0]! + b[1]!) / 2, (b[2]! + b[3]!) / 2, (b[4]! + b[5]!) / 2]);
  for (let k = 0; k < 3; k++) {
    if (!(b[2 * k + 1]! > b[2 * k]!)) continue;
    // Of the four edges along an axis, the one farthest down (up for none) and away from the middle.
    const edge = rulerEdge(b, k, project, centre);
    const at = (v: number): Triple => edge.map((e, d) => (d === k ? v : e)) as unknown as Triple;
    ctx.strokeStyle = ink;
    ctx.fillStyle = ink;
    const ticks = evenTicks(b[2 * k]!, b[2 * k + 1]!, 7);
    for (const t of ticks) {
      const [x, y] = project(at(t));
      const away = [x - centre[0], y - centre[1]];
      const [a0, a1] = [project(at(b[2 * k]!)), project(at(b[2 * k + 1]!))];
      const along = [a1[0] - a0[0], a1[1] - a0[1]];
      const size = Math.hypot(along[0]!, along[1]!) || 1;
      let out = [-along[1]! / size, along[0]! / size];
      if (out[0]! * away[0]! + out[1]! * away[1]! < 0) out = [-out[0]!, -out[1]!];
      ctx.beginPath();
      ctx.moveTo(x, y);
      ctx.lineTo(x + 7 * out[0]!, y + 7 * out[1]!);
      ctx.stroke();
      ctx.fillText(formatNumber(t, 4), x + 19 * out[0]!, y + 15 * out[1]!);
      if (t === ticks[ticks.length - 1]) ctx.fillText("xyz"[k]!, x + 38 * out[0]!, y + 31 * out[1]!);
    }
    ctx.beginPath();
    ctx.moveTo(...project(at(b[2 * k]!)));
    ctx.lineTo(...project(at(b[2 * k + 1]!)));
    ctx.stroke();
  }
  const dot = (place: Triple, fill: string, stroke: string, r: number): void => {
    ctx.beginPath();
    ctx.arc(...project(place), r, 0, 2 * Math.PI);
    ctx.fillStyle = fill;
    ctx.strokeStyle = stroke;
    ctx.lineWidth = 1.6;
    ctx.fill();
    ctx.stroke();
  };
  const paper = p.dark ? "#16191B" : "#FFFFFF";
  for (const s of p.sites) {
    const color = s.name === p.selected ? (p.dark ? "#E0754F" : "#AC4427") : p.dark ? "#5DB5A6" : "#2C7A70";
    if (s.kind === "line") {
      dot(s.from, color, paper, 5);
      dot(s.to, paper, color, 4);
    } else if (s.kind === "points") dot(s.place, color, paper, 4.5);
  }
  if (p.mark) dot(p.mark, "transparent", p.dark ? "#ECE8DF" : "#1F2629", 6);
}

function rulerEdge(
  b: readonly number[],
  k: number,
  project: (p: Triple) => [number, number],
  centre: readonly [number, number],
): number[] {
  const others = [0, 1, 2].filter((d) => d !== k) as [number, number];
  let best: number[] | undefined;
  let far = -Infinity;
  for (const u of [0, 1])
    for (const v of [0, 1]) {
      const edge = [0, 0, 0];
      edge[k] = (b[2 * k]! + b[2 * k + 1]!) / 2;
      edge[others[0]] = b[2 * others[0] + u]!;
      edge[others[1]] = b[2 * others[1] + v]!;
      const [x, y] = project(edge as unknown as Triple);
      // Level axes are read below, the upright one at the left.
      const score = k === 2 ? centre[0] - x : y - centre[1];
      if (score > far) {
        far = score;
        best = edge;
      }
    }
  return best!;
}
