/**
 * Shorter texts for names that are largely the same: what all of them begin or end with is left out, up to a place
 * where a word ends, so that what tells them apart is seen. Names that are short, or have little in common, stay as
 * they are.
 *
 * @example shortNames(["brine-loop_v00_run", "brine-loop_v01_run"]) // "…v00_run"; the tail is too short to leave out
 */
export function shortNames(names: readonly string[], least = 8): Map<string, string> {
  const out = new Map(names.map((n) => [n, n]));
  if (names.length < 2) return out;
  const head = commonHead(names);
  const tail = commonTail(names.map((n) => n.slice(head)));
  const from = head > least ? head : 0;
  const to = tail > least ? tail : 0;
  if (from === 0 && to === 0) return out;
  for (const n of names) out.set(n, `${from > 0 ? "…" : ""}${n.slice(from, n.length - to)}${to > 0 ? "…" : ""}`);
  return out;
}

const boundary = /[\s_./-]/;

function commonHead(names: readonly string[]): number {
  const [first] = names;
  let n = first!.length;
  for (const name of names) {
    let k = 0;
    while (k < n && k < name.length && name[k] === first![k]) k++;
    n = k;
  }
  while (n > 0 && !boundary.test(first![n - 1]!)) n--;
  return n;
}

function commonTail(names: readonly string[]): number {
  const [first] = names;
  let n = Math.min(...names.map((x) => x.length));
  for (const name of names) {
    let k = 0;
    while (k < n && name[name.length - 1 - k] === first![first!.length - 1 - k]) k++;
    n = k;
  }
  while (n > 0 && !boundary.test(first![first!.length - n]!)) n--;
  return n;
}
