import type { ChartDescription } from "../../charts/index.js";

/** A stretch of words in one style. */
export interface Words {
  readonly text: string;
  readonly bold?: boolean;
  readonly italic?: boolean;
  readonly code?: boolean;
  /** An address on the web. */
  readonly link?: string;
}

/** What a report is made of, in the order of reading. */
export type Block =
  | { readonly kind: "heading"; readonly level: 1 | 2 | 3; readonly text: string }
  | { readonly kind: "paragraph"; readonly words: readonly Words[]; readonly soft?: boolean }
  | { readonly kind: "list"; readonly ordered: boolean; readonly items: readonly (readonly Words[])[] }
  | { readonly kind: "quote"; readonly words: readonly Words[] }
  | { readonly kind: "code"; readonly text: string }
  | {
      readonly kind: "table";
      readonly head: readonly string[];
      readonly numeric: readonly boolean[];
      readonly rows: readonly (readonly string[])[];
      readonly caption?: string;
      /** What is not shown of it. */ readonly more?: string;
    }
  | {
      readonly kind: "chart";
      readonly chart: ChartDescription;
      readonly width: number;
      readonly height: number;
      readonly caption?: string;
    }
  | {
      readonly kind: "picture";
      readonly png: Buffer;
      readonly width: number;
      readonly height: number;
      readonly caption?: string;
    }
  | { readonly kind: "verdict"; readonly verdict: "passed" | "failed" | "undecided"; readonly text: string }
  | { readonly kind: "rule" }
  | { readonly kind: "page" };

export interface Report {
  readonly title: string;
  /** The first page. */
  readonly cover: readonly Block[];
  readonly body: readonly Block[];
}

/** The headings of the first two levels, for the contents. */
export const contentsOf = (r: Report): { level: 1 | 2; text: string; id: string }[] =>
  r.body
    .filter((b) => b.kind === "heading" && b.level <= 2)
    .map((b, k) => ({ ...(b as { level: 1 | 2; text: string }), id: `part-${k + 1}` }));
