import { createCanvas } from "@napi-rs/canvas";
import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { documentFonts, shippedFonts } from "./fonts.js";
import { Recorder } from "./recorder.js";

type Ctx = CanvasRenderingContext2D;
type Step = (ctx: Ctx) => void;

const canvasOf = (): { ctx: Ctx; pixels: () => string } => {
  const canvas = createCanvas(80, 60);
  const ctx = canvas.getContext("2d");
  const pixels = (): string => Buffer.from(ctx.getImageData(0, 0, 80, 60).data).toString("base64");
  return { ctx: ctx as unknown as Ctx, pixels };
};

const at = fc.integer({ min: -10, max: 80 });
const color = fc.constantFrom("#AC4427", "#2F6F78", "rgba(20, 30, 40, 0.4)");
/** A step of a drawing, with what it does to a context. */
const step: fc.Arbitrary<Step> = fc.oneof(
  fc.tuple(at, at).map(
    ([x, y]): Step =>
      (c) =>
        c.moveTo(x, y),
  ),
  fc.tuple(at, at).map(
    ([x, y]): Step =>
      (c) =>
        c.lineTo(x, y),
  ),
  fc.tuple(at, at, fc.boolean()).map(
    ([x, y, back]): Step =>
      (c) =>
        c.arc(x, y, 9, 0.3, 2.5, back),
  ),
  fc.tuple(at, at, at, at).map(
    ([a, b, w, h]): Step =>
      (c) =>
        c.fillRect(a, b, w, h),
  ),
  fc.tuple(at, at, at, at).map(
    ([a, b, w, h]): Step =>
      (c) =>
        c.rect(a, b, w, h),
  ),
  fc.tuple(at, at, at, at).map(
    ([a, b, d, e]): Step =>
      (c) =>
        c.quadraticCurveTo(a, b, d, e),
  ),
  fc.tuple(at, at).map(
    ([x, y]): Step =>
      (c) =>
        c.fillText("T_mean 5 °C", x, y),
  ),
  fc.tuple(at, at).map(
    ([x, y]): Step =>
      (c) =>
        c.translate(x / 10, y / 10),
  ),
  fc.double({ min: -1, max: 1, noNaN: true }).map(
    (a): Step =>
      (c) =>
        c.rotate(a),
  ),
  fc.constantFrom<Step>(
    (c) => c.save(),
    (c) => c.restore(),
    (c) => c.beginPath(),
    (c) => c.closePath(),
    (c) => c.stroke(),
    (c) => c.fill("evenodd"),
    (c) => c.clip(),
    (c) => c.setLineDash([3, 2]),
  ),
  color.map(
    (v): Step =>
      (c) =>
        void (c.fillStyle = v),
  ),
  color.map(
    (v): Step =>
      (c) =>
        void (c.strokeStyle = v),
  ),
  fc.integer({ min: 1, max: 6 }).map(
    (v): Step =>
      (c) =>
        void (c.lineWidth = v),
  ),
  fc.double({ min: 0, max: 1, noNaN: true }).map(
    (v): Step =>
      (c) =>
        void (c.globalAlpha = v),
  ),
  fc.constantFrom("center", "right", "left").map(
    (v): Step =>
      (c) =>
        void (c.textAlign = v),
  ),
  fc.constantFrom(9, 14).map(
    (v): Step =>
      (c) =>
        void (c.font = `400 ${v}px ${shippedFonts().sans}`),
  ),
);

describe("what is recorded", () => {
  it("gives the same pixels as drawing at once, as often as it is drawn", () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 60 }), (steps) => {
        const direct = canvasOf();
        const to = new Recorder(shippedFonts());
        for (const s of steps) {
          s(direct.ctx);
          s(to.context);
        }
        for (let k = 0; k < 2; k++) {
          const later = canvasOf();
          to.drawOn(later.ctx, { x: 0, y: 0, scale: 1 });
          expect(later.pixels()).toBe(direct.pixels());
        }
      }),
    );
  });

  it("has its place: moved, scaled, and parts of it by their own origin", () => {
    const { ctx, pixels } = canvasOf();
    const to = new Recorder(shippedFonts());
    to.origin(4, 2);
    to.setTransform(2, 0, 0, 2, 1, 1);
    to.context.fillRect(0, 0, 3, 3);
    to.origin(0, 0);
    to.resetTransform();
    to.context.fillRect(20, 10, 2, 2);
    to.drawOn(ctx, { x: 5, y: 3, scale: 2 });
    const plain = canvasOf();
    plain.ctx.fillRect(5 + 2 * (4 + 1), 3 + 2 * (2 + 1), 12, 12);
    plain.ctx.fillRect(5 + 2 * 20, 3 + 2 * 10, 4, 4);
    expect(pixels()).toBe(plain.pixels());
  });

  it("is set in the fonts of what it is drawn on", () => {
    const fonts: string[] = [];
    const to = new Recorder(shippedFonts());
    to.context.font = `600 9px ${shippedFonts().mono}`;
    const { ctx } = canvasOf();
    Object.defineProperty(ctx, "font", {
      set: (v: string) => {
        fonts.push(v);
      },
    });
    to.drawOn(ctx, { x: 0, y: 0, scale: 1, fonts: documentFonts() });
    to.drawOn(ctx, { x: 0, y: 0, scale: 1 });
    expect(fonts).toEqual([`600 9px ${documentFonts().mono}`, `600 9px ${shippedFonts().mono}`]);
  });

  it("measures as a context does, with what was set and brought back", () => {
    const to = new Recorder(shippedFonts()).context;
    const { ctx } = canvasOf();
    for (const c of [to, ctx]) {
      c.font = `400 20px ${shippedFonts().sans}`;
      c.save();
      c.font = `600 8px ${shippedFonts().mono}`;
      c.restore();
    }
    expect(to.measureText("fitted").width).toBe(ctx.measureText("fitted").width);
    expect(to.font).toBe(ctx.font);
  });

  it("refuses what it would lose in silence", () => {
    const to = new Recorder(shippedFonts()).context;
    expect(() => (to.shadowBlur = 4)).toThrow("not extensible");
    expect(() => to.createPattern(undefined as never, null)).toThrow("is not a function");
  });
});
