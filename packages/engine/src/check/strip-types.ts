import { createRequire } from "node:module";
import { isPlainScript } from "./plain-script.js";

type Strip = (text: string, options: { mode: "strip-only" }) => { code: string };
let strip: Strip | undefined;

/**
 * TypeScript with its types blanked out: every line and column stays where it was.
 *
 * @throws Error where the text cannot be read
 */
export function stripTypes(text: string): string {
  // What takes types out is loaded only where there are some: that takes longer than most checks.
  if (isPlainScript(text)) return text;
  strip ??= (createRequire(import.meta.url)("@swc/wasm-typescript") as { transformSync: Strip }).transformSync;
  return strip(text, { mode: "strip-only" }).code;
}
