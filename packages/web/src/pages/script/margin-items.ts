import type { Diagnostic, Live } from "@oxtrum/contract";
import type { MarginItem } from "./Margin";

const MOST_MARKED = 30;

/**
 * What stands beside the lines of a script: what its lines gave, and what is wrong with them.
 *
 * @param found what checking the text as it is now found
 * @param tried what was tried last; mistakes found by trying another text are not those of this one
 */
export function marginItems(
  script: string,
  live: Live | undefined,
  found: readonly Diagnostic[],
  tried: "this text" | "another text" | undefined,
): MarginItem[] {
  const own = (live?.outputs ?? [])
    .filter((o) => o.file === script)
    .map((output) => ({ key: `o-${output.name}`, line: output.line, output }));
  const running = (tried === "this text" ? (live?.diagnostics ?? []) : []).filter(
    (d) => d.file === script && !found.some((f) => f.line === d.line && f.message === d.message),
  );
  const marked = [...found.filter((d) => d.file === script), ...running];
  return [
    ...own,
    ...marked
      .slice(0, MOST_MARKED)
      .map((diagnostic, k) => ({ key: `d-${k}-${diagnostic.line}`, line: diagnostic.line, diagnostic })),
  ];
}
