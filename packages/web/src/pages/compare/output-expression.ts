/** Where a script emits a table, as it is written there. */
export interface Emitted {
  readonly expression?: string;
  /** Why its output cannot be compared. */
  readonly trouble?: string;
}

/** The end of a text that begins with a quote, of a template or a string. */
function afterString(s: string, i: number): number {
  const quote = s[i]!;
  for (let k = i + 1; k < s.length; k++) {
    if (s[k] === "\\") k++;
    else if (s[k] === quote) return k + 1;
  }
  return s.length;
}

/** Goes over code from a place on, and stops where `stop` says so; strings and comments are passed over whole. */
function scan(
  s: string,
  from: number,
  stop: (c: string, depth: number, at: number) => boolean,
): { at: number; depth: number } {
  let depth = 0;
  for (let i = from; i < s.length; i++) {
    const c = s[i]!;
    if (c === '"' || c === "'" || c === "`") {
      i = afterString(s, i) - 1;
      continue;
    }
    if (c === "/" && s[i + 1] === "/") {
      i = s.indexOf("\n", i);
      if (i < 0) return { at: s.length, depth };
      continue;
    }
    if (c === "/" && s[i + 1] === "*") {
      const end = s.indexOf("*/", i + 2);
      i = end < 0 ? s.length : end + 1;
      continue;
    }
    if (stop(c, depth, i)) return { at: i, depth };
    if ("([{".includes(c)) depth++;
    else if (")]}".includes(c)) depth--;
  }
  return { at: s.length, depth };
}

/**
 * What a script's `emit.table("name", …)` is given: the words of its second argument, where a line below can say them
 * again.
 */
export function emittedExpression(script: string, name: string): Emitted {
  const wanted = new RegExp(`^emit\\.table\\(\\s*${JSON.stringify(name).replace(/[.*+?^${}()|[\]\\]/g, "\\$&")}\\s*,`);
  let found: Emitted = {
    trouble: `the script makes up the name "${name}" as it goes; emit it with its name written out to compare it`,
  };
  scan(script, 0, (c, depth, at) => {
    if (c !== "e" || !wanted.test(script.slice(at, at + name.length + 40))) return false;
    if (depth > 0) {
      found = {
        trouble: `"${name}" is made inside a loop or a function; give it a name at the top of the script to compare it`,
      };
      return true;
    }
    const start = at + wanted.exec(script.slice(at))![0].length;
    const end = scan(script, start, (d, inner) => inner === 0 && (d === "," || d === ")")).at;
    found = { expression: script.slice(start, end).trim() };
    return true;
  });
  return found;
}
