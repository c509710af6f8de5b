import fs from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";
import { GlobalFonts } from "@napi-rs/canvas";
import { namedFont } from "./named-font.js";

const require = createRequire(import.meta.url);
const subsets = ["latin", "latin-ext", "greek"] as const;
type Family = "sans" | "mono";
const families: readonly Family[] = ["sans", "mono"];
const weights = [400, 600] as const;

const folderOf = (family: Family): string =>
  path.dirname(require.resolve(`@fontsource/ibm-plex-${family}/package.json`));
const has = (family: Family, subset: string): boolean => !(family === "mono" && subset === "greek");
const fileOf = (family: Family, subset: string, weight: number, format: "woff" | "woff2"): string =>
  path.join(folderOf(family), "files", `ibm-plex-${family}-${subset}-${weight}-normal.${format}`);

/** What files and pages call the embedded fonts: their licence reserves the original name for the unchanged fonts. */
export const embeddedNames = { sans: "Oxtrum Sans", mono: "Oxtrum Mono" } as const;

/** What the fonts are called inside their own files. */
const ownNames = { sans: "IBM Plex Sans", mono: "IBM Plex Mono" } as const;

/** Lists of names that a text can be set in. */
export interface FontNames {
  readonly sans: string;
  readonly mono: string;
}
let registered: FontNames | undefined;
let named: FontNames | undefined;

/** Registers all subsets of a family, each under a name of its own, and gives the list of these names. */
function register(family: Family, word: string, add: (subset: string, weight: number, name: string) => void): string {
  const names: string[] = [];
  for (const subset of subsets) {
    if (!has(family, subset)) continue;
    const name = `${word} ${family} ${subset}`;
    for (const weight of weights) add(subset, weight, name);
    names.push(`"${name}"`);
  }
  return [...names, '"Ox fallback"'].join(", ");
}

function registerFallback(): void {
  if (registered || named) return;
  const folder = path.dirname(require.resolve("dejavu-fonts-ttf/package.json"));
  GlobalFonts.registerFromPath(path.join(folder, "ttf", "DejaVuSans.ttf"), "Ox fallback");
}

/** Registers the fonts that ship with the product, each subset under a name of its own; system fonts are not used. */
export function shippedFonts(): FontNames {
  if (registered) return registered;
  registerFallback();
  const of = (family: Family): string =>
    register(family, "Plex", (subset, weight, name) =>
      GlobalFonts.registerFromPath(fileOf(family, subset, weight, "woff2"), name),
    );
  return (registered = { sans: of("sans"), mono: of("mono") });
}

/**
 * The same fonts for files that take parts of them in, as PDFs do: under the names that their licence asks for then.
 */
export function documentFonts(): FontNames {
  if (named) return named;
  registerFallback();
  const of = (family: Family): string =>
    register(family, "Oxtrum", (subset, weight, name) => {
      const woff = fs.readFileSync(fileOf(family, subset, weight, "woff"));
      GlobalFonts.register(namedFont(woff, embeddedNames[family], ownNames[family]), name);
    });
  return (named = { sans: of("sans"), mono: of("mono") });
}

type Ranges = readonly (readonly [number, number])[];
const ranges = new Map<string, Ranges>();

function rangesOf(family: Family): readonly (readonly [string, string, Ranges])[] {
  const said = JSON.parse(fs.readFileSync(path.join(folderOf(family), "unicode.json"), "utf8")) as Record<
    string,
    string
  >;
  return subsets
    .filter((s) => has(family, s))
    .map((subset) => {
      const text = said[subset] ?? "";
      const key = `${family}/${subset}`;
      if (!ranges.has(key))
        ranges.set(
          key,
          text.split(",").map((r) => {
            const [a, b] = r.trim().slice(2).split("-");
            return [parseInt(a!, 16), parseInt(b ?? a!, 16)] as const;
          }),
        );
      return [subset, text, ranges.get(key)!] as const;
    });
}

/** A font as a text is set in it. */
export interface UsedFont {
  readonly family: Family;
  readonly weight: number;
}

let known: Record<Family, ReturnType<typeof rangesOf>> | undefined;
const all = (): Record<Family, ReturnType<typeof rangesOf>> =>
  (known ??= { sans: rangesOf("sans"), mono: rangesOf("mono") });

/** Whether the fonts that are embedded have every letter of a text. */
export function isCovered(text: string, family: Family): boolean {
  for (const c of text) {
    const p = c.codePointAt(0)!;
    if (!all()[family].some(([, , r]) => r.some(([a, b]) => p >= a && p <= b))) return false;
  }
  return true;
}

const sources = new Map<string, string>();

/** Style rules that embed the fonts of these texts, no more of them than the texts need. */
export function fontRules(texts: Iterable<UsedFont & { readonly text: string }>): string {
  const wanted = new Map<string, { family: Family; weight: number; subset: string; range: string }>();
  for (const t of texts) {
    const weight = t.weight >= 600 ? 600 : 400;
    for (const c of t.text) {
      const p = c.codePointAt(0)!;
      const found = all()[t.family].find(([, , r]) => r.some(([a, b]) => p >= a && p <= b));
      if (found)
        wanted.set(`${t.family}/${weight}/${found[0]}`, {
          family: t.family,
          weight,
          subset: found[0],
          range: found[1],
        });
    }
  }
  return [...wanted.keys()]
    .sort()
    .map((key) => {
      const w = wanted.get(key)!;
      if (!sources.has(key))
        sources.set(key, fs.readFileSync(fileOf(w.family, w.subset, w.weight, "woff2")).toString("base64"));
      return (
        `@font-face{font-family:"${embeddedNames[w.family]}";font-weight:${w.weight};` +
        `src:url(data:font/woff2;base64,${sources.get(key)!}) ` +
        `format("woff2");unicode-range:${w.range}}`
      );
    })
    .join("");
}

/** Rules for a page that uses all of them. */
export function allFontRules(): string {
  const sample = "Aāα";
  return fontRules(families.flatMap((family) => weights.map((weight) => ({ family, weight, text: sample }))));
}
