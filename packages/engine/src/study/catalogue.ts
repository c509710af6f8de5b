import fs from "node:fs";
import { withWholeNames } from "../definition/short-names.js";
import { blockName } from "../definition/block-name.js";
import path from "node:path";
import { createHash } from "node:crypto";
import {
  describeTextTable,
  FormatError,
  openFile,
  readPlainFile,
  type TextTableHead,
  tableEnding,
} from "@oxtrum/core/formats";
import { writeIfRoom } from "../store/write-whole.js";
import {
  definitionName,
  definitionSchema,
  readDefinition,
  resolveFile,
  type ReaderChoices,
  type StudyDefinition,
  declaredTimes,
} from "../definition/definition.js";
import { discoverRuns, type Discovery, type FoundRun } from "./discover.js";
import { describeFields } from "./field-catalogue.js";
import { definitionProblems } from "./definition-problems.js";
import { inside, StudyTree, type FoundFile } from "../definition/folders.js";
import { declaredUnit, fieldUnits, renamed, unitsFor } from "../definition/declared-units.js";
import type {
  Catalogue,
  CatalogueFile,
  CatalogueRun,
  ColumnHead,
  FieldShape,
  Problem,
  Shape,
} from "../definition/catalogue-model.js";
import { findProblems } from "./problems.js";

export interface ScanOptions {
  /** Where catalogues are kept between scans; not kept when not given. */
  readonly keepIn?: string | undefined;
  readonly definitionFile?: string | undefined;
  readonly onProgress?: ((done: number, total: number) => void) | undefined;
  /** Called with runs and parameters before any file is opened. */
  readonly onRuns?: ((found: Discovery) => void) | undefined;
  readonly signal?: AbortSignal | undefined;
}

/** Whether a file is taken for a text table by its name. */
export const looksLikeTable = (file: string): boolean => tableEnding.test(file) || !path.basename(file).includes(".");

/** Reads heads, and knows again those it has seen: files that begin with the same bytes have the same shape. */
class ShapeReader {
  readonly #numbered = new Numbered<Shape>();
  readonly #seen = new Map<string, TextTableHead>();

  get shapes(): readonly Shape[] {
    return this.#numbered.list;
  }

  describe(
    full: string,
    shown: string,
    found: FoundFile,
    choices: ReaderChoices,
    names: Readonly<Record<string, readonly string[]>>,
    units: Readonly<Record<string, string>>,
  ): CatalogueFile {
    const base = { size: found.size, mtime: found.mtime };
    if (found.size === 0) return { ...base, error: "the file is empty" };
    try {
      const source = openFile(full, shown);
      try {
        const head = describeTextTable(source, choices, this.#seen.get(shown));
        this.#seen.set(shown, head);
        const columns = head.columns.map((c): ColumnHead => {
          const { name } = renamed(c.name, names);
          const unit = c.kind === "text" ? null : declaredUnit(name, c.unit, units, c.name);
          return { name, unit, kind: c.kind === "text" ? "text" : "number" };
        });
        const shape = this.#number({
          columns,
          ...(head.axis !== undefined && { axis: renamed(head.axis, names).name }),
        });
        return {
          ...base,
          shape,
          ...(head.last !== undefined && { last: head.last }),
          ...(head.cutOff && { cut: true as const }),
        };
      } finally {
        source.close();
      }
    } catch (e) {
      return { ...base, error: e instanceof FormatError ? e.message : `cannot be read: ${(e as Error).message}` };
    }
  }

  /** Takes a shape known from an earlier scan. */
  adopt(shape: Shape): number {
    return this.#number(shape);
  }

  #number(shape: Shape): number {
    return this.#numbered.number(shape);
  }
}

/** Things by number: equal ones have the same. */
class Numbered<T> {
  readonly list: T[] = [];
  readonly #keys = new Map<string, number>();

  number(thing: T): number {
    const key = JSON.stringify(thing);
    let k = this.#keys.get(key);
    if (k === undefined) {
      k = this.list.push(thing) - 1;
      this.#keys.set(key, k);
    }
    return k;
  }
}

/** A field's shape with the names and units that the definition gives. */
function declared(shape: FieldShape, definition: StudyDefinition, run: string, field: string): FieldShape {
  const units = fieldUnits(definition, run, field);
  return {
    ...shape,
    blocks: shape.blocks.map((b) => blockName(b, definition.names)),
    fields: shape.fields.map((f) => {
      const { name } = renamed(f.name, definition.names);
      return { ...f, name, unit: declaredUnit(name, f.unit, units, f.name) };
    }),
  };
}

/**
 * Scans a study: its runs, their parameters, and the heads and ends of their tables. Files unchanged since the last
 * scan are not opened again.
 */
export async function scanStudy(folder: string, options: ScanOptions = {}): Promise<Catalogue> {
  const root = path.resolve(folder);
  if (!fs.existsSync(root) || !fs.statSync(root).isDirectory()) throw new Error(`there is no folder ${folder}`);
  const written = definitionOf(root, options.definitionFile);
  const tree = new StudyTree(root, written.links);
  const found = discoverRuns(tree, written);
  const definition = withWholeNames(
    written,
    () => found.runs.flatMap((r) => tree.filesBelow(r.folder).files.map((f) => f.path)),
    (text) => tree.note(definitionName, text),
  );
  options.onRuns?.(found);
  const keepFile =
    options.keepIn === undefined
      ? undefined
      : path.join(options.keepIn, `${createHash("sha256").update(root).digest("hex").slice(0, 24)}.json`);
  const scan = new StudyScan(root, tree, definition, keepFile === undefined ? undefined : readKept(keepFile, written));
  const runs: CatalogueRun[] = [];
  let breathed = Date.now();
  for (const r of found.runs) {
    runs.push(scan.run(r));
    if (Date.now() - breathed > 40) {
      options.signal?.throwIfAborted();
      options.onProgress?.(runs.length, found.runs.length);
      await new Promise((done) => setImmediate(done));
      breathed = Date.now();
    }
  }
  const folders = found.runs.map((r) => r.folder);
  const beside = scan.beside(folders.includes("") ? [] : filesBesides(tree, folders));
  options.onProgress?.(runs.length, found.runs.length);
  const plain = {
    folder: root,
    definition,
    parameters: found.parameters,
    runs,
    ...scan.shapes,
    beside,
    how: found.how,
  };
  const { runs: told, problems } = withFolderProblems(findProblems(plain), tree.problems);
  const catalogue = { ...plain, runs: told, problems: [...definitionProblems(plain), ...problems] };
  if (keepFile !== undefined) writeIfRoom(keepFile, JSON.stringify({ version: KEPT, definition: written, catalogue }));
  return catalogue;
}

/** Describes the files of a study's runs, as far as they are not described as the scan before did. */
class StudyScan {
  readonly #reader = new ShapeReader();
  readonly #fieldShapes = new Numbered<FieldShape>();
  readonly #known: ReadonlyMap<string, CatalogueRun>;
  readonly #choices = new Map<string, ReaderChoices>();

  constructor(
    private readonly root: string,
    private readonly tree: StudyTree,
    private readonly definition: StudyDefinition,
    private readonly before: ReturnType<typeof readKept>,
  ) {
    this.#known = new Map(before?.runs.map((r) => [r.folder, r]));
    for (const name of Object.keys(definition.files))
      for (const p of resolveFile(definition, name).paths) this.#choices.set(p, resolveFile(definition, name).read);
  }

  /** The shapes of all that was described, which runs name by number. */
  get shapes(): Pick<Catalogue, "shapes" | "fieldShapes"> {
    return { shapes: this.#reader.shapes, fieldShapes: this.#fieldShapes.list };
  }

  run(r: FoundRun): CatalogueRun {
    const { definition } = this;
    const { files: below, whole } = this.tree.filesBelow(r.folder);
    const old = this.#known.get(r.folder);
    return {
      id: r.id,
      folder: r.folder,
      params: r.params,
      ...(!whole && { partial: true as const }),
      files: this.#files(path.join(this.root, r.folder), r.id, below, old?.files),
      fields: describeFields(
        below,
        (relative) => inside(this.root, path.posix.join(r.folder, relative), definition.links),
        old?.fields ?? {},
        (shape, file) => this.#fieldShapes.number(declared(shape, definition, r.id, file)),
        (k) => this.#fieldShapes.number(this.before!.fieldShapes[k]!),
        (pattern) => declaredTimes(definition, pattern),
      ),
      problems: r.problems.map((text) => ({ run: r.id, kind: "parameter" as const, text })),
    };
  }

  /** Files that lie beside the runs. */
  beside(files: readonly FoundFile[]): Record<string, CatalogueFile> {
    return this.#files(this.root, "", files, this.before?.beside);
  }

  #files(
    base: string,
    run: string,
    files: readonly FoundFile[],
    old: Readonly<Record<string, CatalogueFile>> | undefined,
  ): Record<string, CatalogueFile> {
    const out: Record<string, CatalogueFile> = {};
    for (const f of files) {
      const kept = old && Object.hasOwn(old, f.path) ? old[f.path] : undefined;
      if (kept?.size === f.size && kept.mtime === f.mtime) out[f.path] = this.#adopted(kept);
      else if (!looksLikeTable(f.path) && !this.#choices.has(f.path)) out[f.path] = { size: f.size, mtime: f.mtime };
      else
        out[f.path] = this.#reader.describe(
          path.join(base, f.path),
          f.path,
          f,
          this.#choices.get(f.path) ?? {},
          this.definition.names,
          unitsFor(this.definition, run, f.path),
        );
    }
    return out;
  }

  #adopted(kept: CatalogueFile): CatalogueFile {
    return kept.shape === undefined ? kept : { ...kept, shape: this.#reader.adopt(this.before!.shapes[kept.shape]!) };
  }
}

/** Puts what could not be listed to the run in whose folder it is, and the rest to the study. */
function withFolderProblems(
  runs: readonly CatalogueRun[],
  problems: readonly { readonly path: string; readonly text: string }[],
): Pick<Catalogue, "runs" | "problems"> {
  const rest: Problem[] = [];
  const ofRun = new Map<string, Problem[]>();
  const byFolder = new Map(runs.map((r) => [r.folder, r]));
  for (const { path: p, text } of problems) {
    let folder = p;
    while (folder !== "" && !byFolder.has(folder))
      folder = folder.includes("/") ? folder.slice(0, folder.lastIndexOf("/")) : "";
    const run = byFolder.get(folder);
    const file = run && p !== run.folder ? p.slice(run.folder === "" ? 0 : run.folder.length + 1) : p;
    const problem: Problem = {
      run: run?.id ?? "",
      kind: "unlisted",
      file,
      text: `${file === "" ? "the folder" : file} ${text}`,
    };
    if (run) ofRun.set(run.id, [...(ofRun.get(run.id) ?? []), problem]);
    else rest.push(problem);
  }
  const all = runs.map((r) => (ofRun.has(r.id) ? { ...r, problems: [...r.problems, ...ofRun.get(r.id)!] } : r));
  return { runs: all, problems: rest };
}

const KEPT = 10;

function readKept(file: string, definition: StudyDefinition): Catalogue | undefined {
  try {
    const kept = JSON.parse(readPlainFile(file, { most: 1e9 }).toString("utf8")) as {
      version: number;
      definition: unknown;
      catalogue: Catalogue;
    };
    if (kept.version !== KEPT || JSON.stringify(definitionSchema.parse(kept.definition)) !== JSON.stringify(definition))
      return undefined;
    return kept.catalogue;
  } catch {
    return undefined;
  }
}

/** Files of the study that belong to no run. */
function filesBesides(tree: StudyTree, runFolders: readonly string[]): FoundFile[] {
  const inRun = new Set(runFolders);
  const parents = new Set(runFolders.map((f) => f.split("/").slice(0, -1).join("/")).filter((p) => p !== ""));
  return tree
    .filesBelow("", (folder) => inRun.has(folder))
    .files.filter((f) => f.path !== definitionName && !parents.has(path.posix.dirname(f.path)));
}

/** The definition that holds; one from elsewhere does not say which folders outside the study may be read. */
function definitionOf(root: string, file: string | undefined): StudyDefinition {
  if (file === undefined) return readDefinition(root).definition;
  let links: readonly string[] = [];
  try {
    ({ links } = readDefinition(root).definition);
  } catch {
    // The study's own does not hold here, and allows nothing.
  }
  return { ...readDefinition(root, file).definition, links: [...links] };
}
