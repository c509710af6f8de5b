import { createHash } from "node:crypto";
import fs from "node:fs";
import { deflateSync } from "node:zlib";
import { drawPixels } from "@oxtrum/core/exports";

/** The engine's version, from its package. */
export function engineVersion(): string {
  return (JSON.parse(fs.readFileSync(new URL("../../package.json", import.meta.url), "utf8")) as { version: string })
    .version;
}

let print: string | undefined;

/**
 * A digest over results of the platform's mathematics and a reference drawing. Where two machines agree in it, the
 * same inputs give the same bytes; where not, numbers are compared and pictures by what they draw.
 */
export function mathFingerprint(): string {
  if (print) return print;
  const h = createHash("sha256");
  const values = new Float64Array(14 * 64);
  let k = 0;
  for (let i = 0; i < 64; i++) {
    const x = 0.017 + i * 0.3711;
    for (const f of [
      Math.sin,
      Math.cos,
      Math.tan,
      Math.exp,
      Math.log,
      Math.log10,
      Math.sqrt,
      Math.cbrt,
      Math.sinh,
      Math.tanh,
      Math.atan,
      Math.log1p,
      Math.expm1,
    ])
      values[k++] = f(x);
    values[k++] = x ** 1.37;
  }
  h.update(new Uint8Array(values.buffer));
  const x = Float64Array.from({ length: 40 }, (_, i) => i);
  h.update(
    deflateSync(
      drawPixels(
        {
          title: "Reference T_{0} ≤ 1",
          x: { title: "x", unit: "s", scale: "linear" },
          y: { title: "y", unit: "K", scale: "linear" },
          series: [{ kind: "lines", name: "a", x, y: x.map((v) => Math.sin(v / 5)), color: { palette: 0 } }],
        },
        { width: 320, height: 200, scale: 1 },
      ),
    ),
  );
  return (print = h.digest("hex"));
}
