/** How fields are kept apart; `blanks` is any run of blanks and tabs. */
export type Delimiter = "," | ";" | "\t" | "|" | "blanks";

/** The fields of one line, quotes removed. */
export function splitLine(line: string, delimiter: Delimiter): string[] {
  return delimiter === "blanks" ? splitBlanks(line) : splitAt(line, delimiter);
}

function splitAt(line: string, delimiter: string): string[] {
  if (!line.includes('"')) return line.split(delimiter).map((f) => f.trim());
  const out: string[] = [];
  let field = "";
  /** Nothing but blanks so far: a quote begins a quoted field only there. */
  let blank = true;
  let quoted = false;
  for (let i = 0; i < line.length; i++) {
    const c = line[i]!;
    if (quoted) {
      if (c === '"' && line[i + 1] === '"') {
        field += '"';
        i++;
      } else if (c === '"') quoted = false;
      else field += c;
    } else if (c === '"' && blank) {
      quoted = true;
      blank = false;
      field = "";
    } else if (c === delimiter) {
      out.push(field.trim());
      field = "";
      blank = true;
    } else {
      field += c;
      if (c !== " " && c !== "\t") blank = false;
    }
  }
  out.push(field.trim());
  return out;
}

function splitBlanks(line: string): string[] {
  const out: string[] = [];
  for (const m of line.matchAll(/"([^"]*)"|'([^']*)'|\S+/g)) out.push(m[1] ?? m[2] ?? m[0]);
  return out;
}
