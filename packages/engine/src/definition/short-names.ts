import { tableEnding } from "@oxtrum/core/formats";
import { listNames } from "@oxtrum/core/tables";
import type { StudyDefinition } from "./definition.js";

/**
 * Names without their endings, as scripts may write them, and which files each can mean. A name that is a file, or
 * stands in the definition, means just that.
 *
 * @example shortNames(["monitors/hall.csv", "a.csv", "a.dat"]) // monitors/hall: [monitors/hall.csv], a: [a.csv, a.dat]
 */
export function shortNames(names: Iterable<string>): Map<string, string[]> {
  const whole = new Set(names);
  const out = new Map<string, string[]>();
  for (const file of [...whole].sort()) {
    const short = file.replace(tableEnding, "").replace(/\.log$/i, "");
    if (short === file || short === "" || short.endsWith("/") || whole.has(short)) continue;
    out.set(short, [...(out.get(short) ?? []), file]);
  }
  return out;
}

/** Names in a definition that may stand for files without their endings: those without one, and without a star. */
const mentioned = (d: StudyDefinition): string[] =>
  [
    ...Object.values(d.files).flatMap((f) => (typeof f === "string" ? f : f.path)),
    ...Object.values(d.accept).flatMap((r) => r.table ?? r.lines ?? []),
    ...Object.keys(d.units),
    ...d.runUnits.map((r) => r.file),
  ].filter((n) => !/\.[^/.]+$/.test(n) && !/[*?{]/.test(n));

/**
 * A definition in which every file has its whole name, as scripts' names are completed, and units belong to files.
 *
 * @param files the names of the files there are; asked for only where the definition leaves an ending out
 * @param note takes what cannot be told
 */
export function withWholeNames(
  d: StudyDefinition,
  files: () => Iterable<string>,
  note: (text: string) => void,
): StudyDefinition {
  const names = new Set(mentioned(d));
  const meant = names.size === 0 ? new Map<string, string[]>() : shortNames(files());
  const whole = (name: string): string => {
    const list = names.has(name) ? (meant.get(name) ?? []) : [];
    if (list.length > 1)
      note(`names "${name}", which can be ${listNames(list)}: write the whole name, with its ending`);
    return list.length === 1 ? list[0]! : name;
  };
  const known = new Map([...names].map((n) => [n, whole(n)]));
  const full = (name: string): string => known.get(name) ?? name;
  /** Elsewhere than in the list of files itself, a name of that list means its entry. */
  const named = (name: string): string => (Object.hasOwn(d.files, name) ? name : full(name));
  /** Units are those of files: under a name of that list, of all of its files. */
  const filesOf = (name: string): string[] => {
    const entry = Object.hasOwn(d.files, name) ? d.files[name]! : name;
    return (typeof entry === "string" ? [entry] : [entry.path].flat()).map(full);
  };
  const each = <T>(of: Readonly<Record<string, T>>, change: (v: T, key: string) => [string, T]): Record<string, T> =>
    Object.fromEntries(Object.entries(of).map(([k, v]) => change(v, k)));
  return {
    ...d,
    files: each(d.files, (f, name) => {
      if (typeof f === "string") return [name, full(f)];
      return [name, { ...f, path: typeof f.path === "string" ? full(f.path) : f.path.map(full) }];
    }),
    accept: each(d.accept, (r, name) => [
      name,
      {
        ...r,
        ...(r.table !== undefined && { table: named(r.table) }),
        ...(r.lines !== undefined && { lines: named(r.lines) }),
      },
    ]),
    units: Object.entries(d.units).reduce<typeof d.units>((out, [name, units]) => {
      for (const file of filesOf(name)) out[file] = { ...out[file], ...units };
      return out;
    }, {}),
    runUnits: d.runUnits.flatMap((r) => filesOf(r.file).map((file) => ({ ...r, file }))),
  };
}
