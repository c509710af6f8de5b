import * as THREE from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import type { Drawing, Outline, Picture } from "@oxtrum/contract";
import { fieldColor } from "@oxtrum/core/charts";
import type { Axis, SurveySite, Triple } from "./sites";

/** What is drawn. */
export interface SceneProps {
  readonly outline: Outline;
  readonly picture: Picture | undefined;
  readonly range: readonly [number, number];
  readonly sites: readonly SurveySite[];
  readonly selected: string | undefined;
  /** Sites of the open script. */
  readonly drawings: readonly { readonly name: string; readonly drawing: Drawing }[];
  readonly dark: boolean;
}

/** What lies under the pointer. */
export type Under =
  | { readonly kind: "value"; readonly place: Triple; readonly value: number }
  | { readonly kind: "patch"; readonly place: Triple; readonly patch: number };

/** Room for rulers, legend and time about the domain, px. */
const MARGIN = { left: 58, right: 46, top: 92, bottom: 92 };
/** A side that is thinner than this share of the longest is drawn larger. */
const THIN = 1 / 10;

export const inks = (dark: boolean): { ink: number; oxide: number; patina: number } =>
  dark ? { ink: 0xece8df, oxide: 0xe0754f, patina: 0x5db5a6 } : { ink: 0x1f2629, oxide: 0xac4427, patina: 0x2c7a70 };

/** Everything of one kind in the scene, replaced as a whole. */
class Layer {
  #object: THREE.Object3D | undefined;
  constructor(private readonly root: THREE.Object3D) {}
  get object(): THREE.Object3D | undefined {
    return this.#object;
  }
  set(object: THREE.Object3D | undefined): void {
    if (this.#object) {
      this.root.remove(this.#object);
      this.#object.traverse((o) => {
        (o as THREE.Mesh).geometry?.dispose();
        ((o as THREE.Mesh).material as THREE.Material | undefined)?.dispose();
      });
    }
    this.#object = object;
    if (object) this.root.add(object);
  }
}

const geometry = (places: Float32Array, index?: Uint32Array): THREE.BufferGeometry => {
  const g = new THREE.BufferGeometry();
  g.setAttribute("position", new THREE.BufferAttribute(places, 3));
  if (index) g.setIndex(new THREE.BufferAttribute(index, 1));
  return g;
};

/** How much larger than it is each direction is drawn: 1 but for thin ones. */
export function stretchOf(b: readonly number[]): Triple {
  const size = [0, 1, 2].map((k) => b[2 * k + 1]! - b[2 * k]!);
  const longest = Math.max(...size);
  return size.map((s) => {
    if (!(s > 0) || s >= THIN * longest) return 1;
    const wanted = (longest / s) * 0.3;
    const power = 10 ** Math.floor(Math.log10(wanted));
    return power * ([5, 2, 1].find((m) => m * power <= wanted) ?? 1);
  }) as unknown as Triple;
}

/** The domain in three dimensions. Drawn when something changes, not all the time. */
export class Scene {
  readonly stretch: Triple;
  readonly #renderer: THREE.WebGLRenderer;
  readonly #camera = new THREE.OrthographicCamera();
  readonly #controls: OrbitControls;
  readonly #root = new THREE.Group();
  readonly #world = new THREE.Scene();
  readonly #layers: Readonly<Record<"surface" | "edges" | "picture" | "sites" | "script" | "hover", Layer>>;
  readonly #ray = new THREE.Raycaster();
  #size: readonly [number, number] = [1, 1];
  /** The frame of the browser in which it is drawn next. */
  #frame: number | undefined;
  #props: SceneProps | undefined;
  #corners: THREE.Vector3[] = [];

  constructor(
    private readonly host: HTMLElement,
    bounds: readonly number[],
    private readonly onDraw: () => void,
  ) {
    this.#renderer = new THREE.WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true });
    host.prepend(this.#renderer.domElement);
    this.stretch = stretchOf(bounds);
    this.#root.scale.set(...(this.stretch as [number, number, number]));
    this.#world.add(this.#root);
    const make = (): Layer => new Layer(this.#root);
    this.#layers = { surface: make(), edges: make(), picture: make(), sites: make(), script: make(), hover: make() };
    const end = (k: number, side: number): number => bounds[2 * k + side]! * this.stretch[k]!;
    for (const i of [0, 1])
      for (const j of [0, 1])
        for (const k of [0, 1]) this.#corners.push(new THREE.Vector3(end(0, i), end(1, j), end(2, k)));
    const middle = new THREE.Vector3(
      ...([0, 1, 2].map((k) => (end(k, 0) + end(k, 1)) / 2) as [number, number, number]),
    );
    const reach = Math.hypot(...[0, 1, 2].map((k) => end(k, 1) - end(k, 0))) / 2 || 1;
    this.#camera.near = -20 * reach;
    this.#camera.far = 20 * reach;
    // Flat domains are looked at straight.
    const flat = [0, 1, 2].find((k) => !(bounds[2 * k + 1]! > bounds[2 * k]!));
    const from: Triple = flat === 2 ? [0, 0, 1] : flat === 1 ? [0, -1, 0] : flat === 0 ? [1, 0, 0] : [-0.9, -1.5, 0.8];
    this.#camera.up.set(0, flat === 2 ? 1 : 0, flat === 2 ? 0 : 1);
    this.#camera.position.set(middle.x + reach * from[0], middle.y + reach * from[1], middle.z + reach * from[2]);
    this.#controls = new OrbitControls(this.#camera, this.#renderer.domElement);
    this.#controls.target.copy(middle);
    this.#controls.update();
    this.#controls.addEventListener("change", () => this.draw());
  }

  set turning(on: boolean) {
    this.#controls.enabled = on;
  }

  /** Fits the domain into the box, with room for its rulers. */
  resize(): void {
    const [w, h] = [this.host.clientWidth, this.host.clientHeight];
    if (w < 10 || h < 10) return;
    this.#size = [w, h];
    this.#renderer.setPixelRatio(window.devicePixelRatio);
    this.#renderer.setSize(w, h);
    const c = this.#camera;
    c.updateMatrixWorld();
    const seen = this.#corners.map((p) => p.clone().applyMatrix4(c.matrixWorldInverse));
    const low = [Math.min(...seen.map((p) => p.x)), Math.min(...seen.map((p) => p.y))] as const;
    const high = [Math.max(...seen.map((p) => p.x)), Math.max(...seen.map((p) => p.y))] as const;
    const room = [Math.max(50, w - MARGIN.left - MARGIN.right), Math.max(50, h - MARGIN.top - MARGIN.bottom)] as const;
    const px = Math.max((high[0] - low[0]) / room[0], (high[1] - low[1]) / room[1]) || 1;
    const cx = (low[0] + high[0]) / 2 + ((MARGIN.right - MARGIN.left) * px) / 2;
    const cy = (low[1] + high[1]) / 2 + ((MARGIN.top - MARGIN.bottom) * px) / 2;
    c.left = cx - (w * px) / 2;
    c.right = cx + (w * px) / 2;
    c.top = cy + (h * px) / 2;
    c.bottom = cy - (h * px) / 2;
    c.updateProjectionMatrix();
    // At once: a new size has emptied it.
    this.#drawNow();
  }

  update(p: SceneProps): void {
    const old = this.#props;
    this.#props = p;
    const { ink } = inks(p.dark);
    const fresh = old?.outline !== p.outline || old.dark !== p.dark;
    if (fresh || (old?.picture === undefined) !== (p.picture === undefined)) {
      // Surfaces that are coloured cover themselves: behind a picture only the edges are drawn.
      const faces = new THREE.Mesh(
        geometry(p.outline.points, p.outline.triangles),
        new THREE.MeshBasicMaterial({
          color: ink,
          transparent: true,
          opacity: p.picture ? 0 : 0.045,
          side: THREE.DoubleSide,
          depthWrite: false,
        }),
      );
      this.#layers.surface.set(faces);
    }
    if (fresh) {
      const lines = geometry(p.outline.points, p.outline.edges);
      this.#layers.edges.set(
        new THREE.LineSegments(lines, new THREE.LineBasicMaterial({ color: ink, transparent: true, opacity: 0.42 })),
      );
    }
    if (fresh && p.outline.dimension === 0)
      this.#layers.edges.set(
        new THREE.Points(
          geometry(p.outline.points),
          new THREE.PointsMaterial({ color: ink, size: 3, sizeAttenuation: false, transparent: true, opacity: 0.55 }),
        ),
      );
    if (old?.picture !== p.picture || old?.range !== p.range)
      this.#layers.picture.set(p.picture && pictureMesh(p.picture, p.range));
    if (fresh || old?.drawings !== p.drawings) this.#layers.script.set(scriptLines(p));
    this.#layers.sites.set(siteLines(p));
    this.draw();
  }

  /** Draws it in the next frame, however much has changed until then. */
  draw(): void {
    this.#frame ??= requestAnimationFrame(() => this.#drawNow());
  }

  #drawNow(): void {
    this.#cancel();
    this.#renderer.render(this.#world, this.#camera);
    this.onDraw();
  }

  #cancel(): void {
    if (this.#frame !== undefined) cancelAnimationFrame(this.#frame);
    this.#frame = undefined;
  }

  /** Where on the screen a place of the domain is, px from the corner of the box. */
  project(p: Triple): [number, number] {
    const v = new THREE.Vector3(p[0] * this.stretch[0], p[1] * this.stretch[1], p[2] * this.stretch[2]).project(
      this.#camera,
    );
    return [((v.x + 1) / 2) * this.#size[0], ((1 - v.y) / 2) * this.#size[1]];
  }

  /** A place moved by so many px, in a plane of the axes; along one axis only where one is given. */
  shifted(place: Triple, dx: number, dy: number, axis?: number): Triple {
    const c = this.#camera;
    if (axis !== undefined) {
      const [a, b] = [
        this.project(place),
        this.project(place.map((v, k) => (k === axis ? v + 1 : v)) as unknown as Triple),
      ];
      const way = [b[0] - a[0], b[1] - a[1]] as const;
      const size = way[0] ** 2 + way[1] ** 2;
      // Seen from its end an axis has no way on the screen.
      const by = size < 1e-12 ? 0 : (dx * way[0] + dy * way[1]) / size;
      return place.map((v, k) => (k === axis ? v + by : v)) as unknown as Triple;
    }
    // In the upright or level plane that faces the eye most: the third coordinate stays.
    const eye = c.getWorldDirection(new THREE.Vector3()).toArray().map(Math.abs);
    const away = eye.indexOf(Math.max(...eye));
    const [i, j] = [0, 1, 2].filter((k) => k !== away) as [number, number];
    const way = (k: number): [number, number] => {
      const [a, b] = [
        this.project(place),
        this.project(place.map((v, d) => (d === k ? v + 1 : v)) as unknown as Triple),
      ];
      return [b[0] - a[0], b[1] - a[1]];
    };
    const [u, v] = [way(i), way(j)];
    const det = u[0] * v[1] - u[1] * v[0];
    if (Math.abs(det) < 1e-9) return place;
    const by = [(dx * v[1] - dy * v[0]) / det, (u[0] * dy - u[1] * dx) / det] as const;
    return place.map((p, k) => (k === i ? p + by[0] : k === j ? p + by[1] : p)) as unknown as Triple;
  }

  /** What is under a point of the screen: a value of the picture, or a patch of the surface. */
  under(x: number, y: number): Under | undefined {
    const p = this.#props;
    if (!p) return undefined;
    this.#ray.setFromCamera(new THREE.Vector2((2 * x) / this.#size[0] - 1, 1 - (2 * y) / this.#size[1]), this.#camera);
    const real = (v: THREE.Vector3): Triple => [v.x / this.stretch[0], v.y / this.stretch[1], v.z / this.stretch[2]];
    const { picture, surface } = this.#layers;
    const on = picture.object && this.#ray.intersectObject(picture.object)[0];
    if (on && p.picture && on.faceIndex !== undefined && on.faceIndex !== null)
      return { kind: "value", place: real(on.point), value: valueIn(p.picture, on.faceIndex, real(on.point)) };
    const hit = surface.object && this.#ray.intersectObject(surface.object)[0];
    if (!hit || hit.faceIndex === undefined || hit.faceIndex === null) return undefined;
    return { kind: "patch", place: real(hit.point), patch: p.outline.owner[hit.faceIndex]! };
  }

  /** Marks a patch; undefined marks none. */
  mark(patch: number | undefined): void {
    const p = this.#props;
    if (!p || patch === undefined) this.#layers.hover.set(undefined);
    else {
      const { triangles, owner, points } = p.outline;
      const own: number[] = [];
      owner.forEach((o, t) => o === patch && own.push(triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!));
      const { patina } = inks(p.dark);
      this.#layers.hover.set(
        new THREE.Mesh(
          geometry(points, Uint32Array.from(own)),
          new THREE.MeshBasicMaterial({
            color: patina,
            transparent: true,
            opacity: 0.22,
            side: THREE.DoubleSide,
            depthWrite: false,
            depthTest: false,
          }),
        ),
      );
    }
    this.draw();
  }

  dispose(): void {
    this.#cancel();
    for (const l of Object.values(this.#layers)) l.set(undefined);
    this.#controls.dispose();
    this.#renderer.dispose();
    this.#renderer.domElement.remove();
  }
}

/** The value at a place in a triangle of a picture. */
function valueIn(p: Picture, triangle: number, at: Triple): number {
  const v = (k: number): THREE.Vector3 => new THREE.Vector3().fromArray(p.places, 3 * (3 * triangle + k));
  const share = THREE.Triangle.getBarycoord(new THREE.Vector3(...at), v(0), v(1), v(2), new THREE.Vector3());
  const values = p.values.subarray(3 * triangle, 3 * triangle + 3);
  return share ? share.x * values[0]! + share.y * values[1]! + share.z * values[2]! : values[0]!;
}

function pictureMesh(p: Picture, range: readonly [number, number]): THREE.Mesh {
  const colors = new Float32Array(3 * p.values.length);
  const span = range[1] - range[0] || 1;
  const c = new THREE.Color();
  for (let i = 0; i < p.values.length; i++) {
    c.setRGB(...fieldColor((p.values[i]! - range[0]) / span), THREE.SRGBColorSpace);
    colors[3 * i] = c.r;
    colors[3 * i + 1] = c.g;
    colors[3 * i + 2] = c.b;
  }
  const g = geometry(p.places);
  g.setAttribute("color", new THREE.BufferAttribute(colors, 3));
  return new THREE.Mesh(g, new THREE.MeshBasicMaterial({ vertexColors: true, side: THREE.DoubleSide }));
}

function siteLines(p: SceneProps): THREE.Group {
  const group = new THREE.Group();
  const { oxide, patina } = inks(p.dark);
  const b = p.outline.bounds;
  // The chosen one lies over the others.
  for (const s of [...p.sites].sort((a, c) => Number(a.name === p.selected) - Number(c.name === p.selected))) {
    const material = new THREE.LineBasicMaterial({
      color: s.name === p.selected ? oxide : patina,
      depthTest: false,
      transparent: true,
    });
    const line = (places: readonly number[]): void =>
      void group.add(new THREE.Line(geometry(Float32Array.from(places)), material));
    if (s.kind === "line") line([...s.from, ...s.to]);
    else if (s.kind === "column") line([s.x, s.y, b[4]!, s.x, s.y, b[5]!]);
    else if (s.kind === "plane")
      group.add(new THREE.LineLoop(geometry(Float32Array.from(planeFrame(b, s.axis, s.at))), material));
  }
  group.renderOrder = 10;
  return group;
}

function scriptLines(p: SceneProps): THREE.Group {
  const group = new THREE.Group();
  const material = new THREE.LineBasicMaterial({
    color: inks(p.dark).patina,
    depthTest: false,
    transparent: true,
    opacity: 0.75,
  });
  for (const { drawing } of p.drawings)
    if (drawing.lines.length > 0) group.add(new THREE.LineSegments(geometry(drawing.lines), material));
  group.renderOrder = 9;
  return group;
}

function planeFrame(b: readonly number[], axis: Axis, at: number): number[] {
  const k = "xyz".indexOf(axis);
  const [i, j] = [0, 1, 2].filter((d) => d !== k) as [number, number];
  return [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ].flatMap(([u, v]) => {
    const p = [0, 0, 0];
    p[k] = at;
    p[i] = b[2 * i + u!]!;
    p[j] = b[2 * j + v!]!;
    return p;
  });
}
