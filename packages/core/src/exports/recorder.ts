import { createCanvas } from "@napi-rs/canvas";
import type { FontNames } from "./fonts.js";

/** What charts call of a context, apart from what places them. */
const CALLS = [
  "save",
  "restore",
  "beginPath",
  "closePath",
  "moveTo",
  "lineTo",
  "bezierCurveTo",
  "quadraticCurveTo",
  "arc",
  "arcTo",
  "ellipse",
  "rect",
  "roundRect",
  "fill",
  "stroke",
  "clip",
  "fillRect",
  "strokeRect",
  "fillText",
  "strokeText",
  "translate",
  "rotate",
  "scale",
  "transform",
  "drawImage",
  "setLineDash",
] as const;

/** What charts set of it. */
const SETTINGS = [
  "fillStyle",
  "strokeStyle",
  "lineWidth",
  "lineCap",
  "lineJoin",
  "lineDashOffset",
  "miterLimit",
  "globalAlpha",
  "globalCompositeOperation",
  "font",
  "textAlign",
  "textBaseline",
  "fontFeatureSettings",
] as const;

/** Codes of calls: those above, the same with all that they were given in one list, settings, and places. */
const LISTED = 64;
const SETTING = 128;
const FONT = SETTING + SETTINGS.indexOf("font");
const PLACED = 256;
const ORIGIN = 257;

type Method = (this: CanvasRenderingContext2D, ...given: unknown[]) => void;

/** Where a drawing goes to: the point of its upper left corner in device units, and how many of them a pixel has. */
export interface Target {
  readonly x: number;
  readonly y: number;
  readonly scale: number;
  /** The fonts instead of those that it was recorded with. */
  readonly fonts?: FontNames | undefined;
}

/**
 * A context that keeps what is drawn on it, to draw it on others: a chart is laid out once for a picture, an SVG and
 * the page of a report. It is a context as far as charts need one: what they ask for or set besides fails. Its pixels
 * are those of the drawing, and `origin` moves all that follows.
 * @example const to = new Recorder(fonts); draw(to.context); to.drawOn(ctx, { x: 0, y: 0, scale: 2 });
 */
export class Recorder {
  readonly #codes: number[] = [];
  readonly #numbers: number[] = [];
  readonly #things: unknown[] = [];
  readonly #fonts: FontNames;
  /** Has the settings and measures texts. */
  readonly state = createCanvas(1, 1).getContext("2d") as unknown as CanvasRenderingContext2D;

  /** @param fonts that it is drawn with */
  constructor(fonts: FontNames) {
    this.#fonts = fonts;
    Object.preventExtensions(this);
  }

  /** What Chart.js believes to draw on. */
  canvas: unknown;

  /** The same as a context. */
  get context(): CanvasRenderingContext2D {
    return this as unknown as CanvasRenderingContext2D;
  }

  /** How many calls were kept. */
  get size(): number {
    return this.#codes.length / 2;
  }

  measureText(text: string): TextMetrics {
    return this.state.measureText(text);
  }

  /** What a chart would wipe belongs to others as well. */
  clearRect(): void {}

  setTransform(...six: readonly [number, number, number, number, number, number]): void {
    this.#codes.push(PLACED, 0);
    this.#numbers.push(...six);
  }

  resetTransform(): void {
    this.setTransform(1, 0, 0, 1, 0, 0);
  }

  /** From here on, places count from this point. */
  origin(x: number, y: number): void {
    this.#codes.push(ORIGIN, 0);
    this.#numbers.push(x, y);
  }

  /** Keeps a call. */
  keep(code: number, given: readonly unknown[]): void {
    const start = this.#numbers.length;
    for (const g of given) {
      if (typeof g === "number") this.#numbers.push(g);
      else {
        this.#numbers.length = start;
        this.#codes.push(code + LISTED, 0);
        this.#things.push(given);
        return;
      }
    }
    this.#codes.push(code, given.length);
  }

  /** Keeps a setting. */
  keepSetting(code: number, value: unknown): void {
    this.#codes.push(SETTING + code, 0);
    this.#things.push(value);
  }

  /** Draws all of it on a context. */
  drawOn(ctx: CanvasRenderingContext2D, target: Target): void {
    const numbers = this.#numbers;
    const methods = CALLS.map((name) => ctx[name] as Method);
    const { x, y, scale: s } = target;
    let [left, top] = [x, y];
    let at = 0;
    let thing = 0;
    for (let k = 0; k < this.#codes.length; k += 2) {
      const code = this.#codes[k]!;
      if (code < LISTED) {
        const count = this.#codes[k + 1]!;
        callWith(ctx, methods[code]!, numbers, at, count);
        at += count;
      } else if (code < SETTING) methods[code - LISTED]!.apply(ctx, this.#things[thing++] as unknown[]);
      else if (code === FONT) ctx.font = this.#fontOf(this.#things[thing++] as string, target.fonts);
      else if (code < PLACED) Object.assign(ctx, { [SETTINGS[code - SETTING]!]: this.#things[thing++] });
      else if (code === PLACED) {
        const [a, b, c, d, e, f] = numbers.slice(at, (at += 6)) as [number, number, number, number, number, number];
        ctx.setTransform(s * a, s * b, s * c, s * d, s * e + left, s * f + top);
      } else {
        left = x + numbers[at++]! * s;
        top = y + numbers[at++]! * s;
      }
    }
  }

  #fontOf(font: string, fonts = this.#fonts): string {
    return font.replace(this.#fonts.sans, fonts.sans).replace(this.#fonts.mono, fonts.mono);
  }
}

/** Calls with some of many numbers; the usual counts without a list of their own. */
function callWith(ctx: CanvasRenderingContext2D, method: Method, all: readonly number[], at: number, n: number): void {
  if (n === 2) method.call(ctx, all[at], all[at + 1]);
  else if (n === 0) method.call(ctx);
  else if (n === 4) method.call(ctx, all[at], all[at + 1], all[at + 2], all[at + 3]);
  else method.apply(ctx, all.slice(at, at + n));
}

for (const [code, name] of CALLS.entries())
  Object.defineProperty(Recorder.prototype, name, {
    value: function (this: Recorder, ...given: unknown[]): void {
      if (name === "save" || name === "restore") this.state[name]();
      this.keep(code, given);
    },
  });

for (const [code, name] of SETTINGS.entries())
  Object.defineProperty(Recorder.prototype, name, {
    get(this: Recorder): unknown {
      return Reflect.get(this.state, name);
    },
    set(this: Recorder, value: unknown): void {
      Object.assign(this.state, { [name]: value });
      this.keepSetting(code, value);
    },
  });
