import type { Addition, Preview } from "@oxtrum/contract";

/**
 * A look at what lines give that were added below a script: what they put out, without the script's own outputs. Both
 * are made, for the lines build on the script.
 *
 * @param script the name of the file that they were added to
 */
export function ofAddedLines(look: Preview, { text, changes }: Addition, script: string): Preview {
  const block = changes[changes.length - 1]?.insert ?? "";
  const above = text.slice(0, text.length - block.length);
  const before = above === "" ? 0 : above.split("\n").length;
  return { ...look, outputs: look.outputs.filter((o) => o.file === script && o.line > before) };
}

/** The output that a view calls so; where the script has put out one of that name before, it has a number behind it. */
export const outputCalled = <T extends { readonly name: string }>(
  outputs: readonly T[],
  ending: string,
): T | undefined => outputs.find((o) => o.name.replace(/ \d+$/, "").endsWith(ending));
