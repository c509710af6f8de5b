import path from "node:path";
import { FormatError } from "@oxtrum/core/formats";
import type { Catalogue, CatalogueField, FieldShape } from "../definition/catalogue-model.js";
import { own } from "@oxtrum/core/tables";
import { fileOf, filesBehind } from "../read/field-layout.js";
import { fieldName, isMeshName, isOfParts, isTimeCollection } from "../definition/field-name.js";
import { logicalName, resolveFile, type SeriesTimes } from "../definition/definition.js";
import { describeField } from "../read/read-fields.js";
import type { FoundFile } from "../definition/folders.js";

const MOST_TIMES = 500;
const MOST_FILES = 500;

/** Names under which scripts find the fields of a run's folder: collections first, then what no collection names. */
function fieldNames(
  files: readonly FoundFile[],
  referenced: ReadonlySet<string>,
  taken: ReadonlySet<string>,
  isSeries: (pattern: string) => boolean,
): string[] {
  const groups = new Map<string, string[]>();
  const names: string[] = [];
  const own = files.map((f) => f.path).filter((p) => isMeshName(p) && !referenced.has(p));
  // A series in time has its folder for itself: numbered files among others are patches like them.
  const place = (p: string): string => `${path.posix.dirname(p)} ${path.posix.extname(p)}`;
  const mixed = new Set(own.filter((p) => !/\d\.\w+$/.test(p)).map(place));
  for (const p of own) {
    const numbered = mixed.has(place(p)) ? null : /^(.*?)\d+(\.\w+)$/.exec(p);
    const key = numbered
      ? `${numbered[1]}*${numbered[2]}`
      : path.posix.join(path.posix.dirname(p), `*${path.posix.extname(p)}`);
    groups.set(key, [...(groups.get(key) ?? []), p]);
  }
  const single = [...groups.values()].filter((list) => list.length === 1).map(([f]) => fieldName(f!));
  const shared = (name: string): boolean => taken.has(name) || single.filter((n) => n === name).length > 1;
  for (const [pattern, list] of groups)
    names.push(
      list.length > 1 || isSeries(pattern) ? pattern : shared(fieldName(list[0]!)) ? list[0]! : fieldName(list[0]!),
    );
  return names;
}

/** What a catalogue keeps of a field that was looked at. */
function entryOf(
  d: ReturnType<typeof describeField>,
  name: string,
  number: (shape: FieldShape, file: string) => number,
): Omit<CatalogueField, "stamp"> {
  const { fields, blocks, dimension, dimensions, layout, files } = d;
  const times = layout.steps.map((s) => s.at).filter((t) => t !== undefined);
  const file = name.includes("*") ? undefined : fileOf(layout, name);
  const unit = layout.axisUnit !== undefined && layout.axisUnit !== null && { axisUnit: layout.axisUnit };
  const shape = number({ axis: layout.axis, ...unit, fields, blocks, dimension, dimensions }, file ?? name);
  return {
    ...(file !== undefined && { file }),
    shape,
    steps: layout.steps.length,
    ...(files.length <= MOST_FILES && { files }),
    ...(times.length > 0 && { last: times[times.length - 1]! }),
    ...(times.length > 0 && times.length <= MOST_TIMES && { times }),
  };
}

/** Looks at the fields of one run. */
export function describeFields(
  files: readonly FoundFile[],
  locate: (relative: string) => string,
  old: Readonly<Record<string, CatalogueField>>,
  number: (shape: FieldShape, file: string) => number,
  adopt: (shape: number) => number,
  declared: (pattern: string) => SeriesTimes | undefined = () => undefined,
): Record<string, CatalogueField> {
  const stamps = new Map(files.map((f) => [f.path, `${f.size} ${f.mtime}`]));
  const out: Record<string, CatalogueField> = {};
  const referenced = new Set<string>();
  const look = (name: string, stamp: string): void => {
    const known = Object.hasOwn(old, name) ? old[name] : undefined;
    if (known?.stamp === stamp && known.shape !== undefined && known.files?.every((f) => stamps.has(f))) {
      for (const f of known.files) referenced.add(f);
      out[name] = { ...known, shape: adopt(known.shape) };
      return;
    }
    try {
      const d = describeField(name, locate, declared(name));
      for (const f of d.files) referenced.add(f);
      if (known?.stamp === stamp && known.shape !== undefined) {
        out[name] = { ...known, shape: adopt(known.shape) };
        return;
      }
      out[name] = { stamp, ...entryOf(d, name, number) };
    } catch (e) {
      out[name] = { stamp, error: e instanceof FormatError ? `${e.file}: ${e.message}` : (e as Error).message };
    }
  };
  const heads = files.map((f) => f.path).filter((p) => isTimeCollection(p));
  // Two files with one short name are told apart by their endings.
  const short = (p: string): string => (heads.some((h) => h !== p && fieldName(h) === fieldName(p)) ? p : fieldName(p));
  for (const p of heads) look(short(p), stamps.get(p)!);
  // Parts that a parallel or multi-block file names are not fields of their own.
  for (const { path: p } of files) if (isOfParts(p)) for (const f of behind(p, locate)) if (f !== p) referenced.add(f);
  for (const name of fieldNames(files, referenced, new Set(Object.keys(out)), (p) => declared(p) !== undefined))
    look(
      name,
      stamps.get(name) ??
        files
          .filter((f) => f.path.startsWith(name.split("*")[0]!))
          .map((f) => stamps.get(f.path))
          .join(),
    );
  return out;
}

/** What a file of parts names; nothing when it cannot be opened, which it says itself when it is read. */
function behind(file: string, locate: (relative: string) => string): ReadonlySet<string> {
  try {
    return filesBehind(file, locate);
  } catch {
    return new Set();
  }
}

/**
 * The name under which pages show the field that a script calls `asked`: that of the definition, or the file's without
 * its ending.
 */
export function shownField(c: Pick<Catalogue, "runs" | "definition">, asked: string): string {
  const path = resolveFile(c.definition, asked).paths[0]!;
  for (const r of c.runs) {
    if (Object.hasOwn(r.fields, path)) return logicalName(c.definition, path);
    const whole = Object.entries(r.fields).find(([, f]) => f.file === path);
    if (whole) return logicalName(c.definition, whole[0]);
  }
  return asked;
}

/** A field of a run by the name that scripts use, or by the whole name of its file. */
export const fieldCalled = (
  fields: Readonly<Record<string, CatalogueField>>,
  asked: string,
): CatalogueField | undefined => own(fields, asked) ?? Object.values(fields).find((f) => f.file === asked);
