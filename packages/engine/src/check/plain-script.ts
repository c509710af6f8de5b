import { Script } from "node:vm";

/** An import as scripts write it: names of the library or of another script, in one line. */
const IMPORT = /^import (?:[\w$]+|\* as [\w$]+|\{[\w$, ]*\}) from (?:"[^"\\\n]*"|'[^'\\\n]*');?[ \t]*$/gm;
/** How types end that are given to a call. */
const TYPES_END = /(?<!=)>\s*[(`]/;
/** Whether there may be what JavaScript reads as comparisons and TypeScript as a call with types: `f<A>(x)`. */
function mayHaveTypedCall(text: string): boolean {
  const first = text.indexOf("<");
  return first >= 0 && TYPES_END.test(text.slice(first + 1));
}
/** Words that only begin something of TypeScript where a line ends after them. */
const OWN_LINE = /^[ \t]*(?:type|declare|abstract|interface|namespace|module)[ \t]*$/m;

/**
 * Whether a script is JavaScript as it stands, so that there are no types to take out. Where it is in doubt it is not:
 * then it takes the longer way.
 *
 * @example isPlainScript('import { emit } from "oxtrum";\nemit.text("a", "b");') // true
 */
export function isPlainScript(text: string): boolean {
  if (mayHaveTypedCall(text) || OWN_LINE.test(text)) return false;
  // Imports stand in modules alone.
  const body = text.replace(IMPORT, (line) => (/\btype\b/.test(line) ? line : ""));
  try {
    // Compiled, and never run.
    new Script(`async () => { "use strict";\n${body}\n}`);
    return true;
  } catch {
    return false;
  }
}
