import { glob } from "../tables/glob.js";
import { FormatError } from "../formats/source.js";
import { someTuples, type Grid } from "../formats/mesh-data.js";
import { loadMesh, meshDigest, type Mesh } from "../mesh/mesh.js";
import { NoSuchColumn, type UnitSymbol } from "../tables/table.js";
import { forgetAlso } from "./byte-cache.js";

/** A field as scripts name it: without the unit that stands in the file's name for it. */
export interface NamedField {
  readonly name: string;
  readonly stored: string;
  readonly on: "point" | "cell";
  readonly components: number;
  readonly unit: UnitSymbol;
  /** Named by where it is, as in `T@cell`: the field of that name elsewhere does not stand in for it. */
  readonly exact?: true;
}

const three = ["x", "y", "z"];
const six = ["xx", "yy", "zz", "xy", "yz", "xz"];
const nine = ["xx", "xy", "xz", "yx", "yy", "yz", "zx", "zy", "zz"];

/** Names of a field's components: `U.x U.y U.z`, of tensors `S.xx` and so on; a scalar is itself. */
export function componentNames(name: string, components: number): string[] {
  if (components === 1) return [name];
  const parts = components === 3 ? three : components === 6 ? six : components === 9 ? nine : undefined;
  return Array.from({ length: components }, (_, k) => `${name}.${parts?.[k] ?? k}`);
}

/** A column that is asked of a field: one component, or the magnitude of a vector. */
export interface Asked {
  readonly column: string;
  readonly field: NamedField;
  /** Which component; −1 is the magnitude. */
  readonly component: number;
}

/**
 * The columns that names ask for: `T` a scalar, `U` all components of a vector and its magnitude, `U.x` or `U.mag` one.
 *
 * @throws NoSuchColumn with the nearest right names
 */
export function askedColumns(fields: readonly NamedField[], names: readonly string[]): Asked[] {
  const out: Asked[] = [];
  const add = (a: Asked): void => {
    if (!out.some((o) => o.column === a.column)) out.push(a);
  };
  for (const name of names) {
    const field = fields.find((f) => f.name === name);
    if (field) {
      componentNames(name, field.components).forEach((column, component) => add({ column, field, component }));
      if (field.components === 3) add({ column: `${name}.mag`, field, component: -1 });
      continue;
    }
    const of = fields.flatMap((f): Asked[] => [
      ...componentNames(f.name, f.components).map((column, component) => ({ column, field: f, component })),
      ...(f.components === 3 ? [{ column: `${f.name}.mag`, field: f, component: -1 }] : []),
    ]);
    const found = of.find((a) => a.column === name);
    if (!found) throw new NoSuchColumn(name, [...new Set([...fields.map((f) => f.name), ...of.map((a) => a.column)])]);
    add(found);
  }
  return out;
}

/** Meshes that are still in use, by their digests: runs and times on the same mesh hold it once. */
const meshes = new Map<string, WeakRef<Mesh>>();
forgetAlso(() => meshes.clear());

/** Who takes note of what is read of a file, to know it again by that. */
export interface ReadWatch {
  /** Reads that only find out where places are: what is found is looked at again, and noted then. */
  aside<T>(work: () => T): T;
  /** The result depends on all of the file. */
  whole(): void;
}

/** One grid with its mesh, read when first needed. */
export class Block {
  readonly name: string;
  #mesh: Mesh | undefined;
  #digest: string | undefined;
  readonly #values = new Map<string, Float64Array>();

  constructor(
    readonly grid: Grid,
    private readonly file: string,
    name = grid.block,
    readonly watch?: ReadWatch,
  ) {
    this.name = name;
  }

  /** Its points and cells; blocks of the same mesh share them. */
  get mesh(): Mesh {
    if (this.#mesh) return this.#mesh;
    const known = meshes.get(this.digest)?.deref();
    const load = (): Mesh => loadMesh(this.grid, this.file);
    this.#mesh = known ?? (this.watch ? this.watch.aside(load) : load());
    if (!known) meshes.set(this.digest, new WeakRef(this.#mesh));
    return this.#mesh;
  }

  /** Whether its points and cells have been read, or digested, already. */
  get isKnown(): boolean {
    return this.#mesh !== undefined || this.#digest !== undefined;
  }

  get digest(): string {
    const make = (): string => meshDigest(this.grid);
    return (this.#digest ??= this.watch ? this.watch.aside(make) : make());
  }

  /** All values of a field, read once while the block is in use. */
  values(on: "point" | "cell", stored: string): Float64Array {
    const key = `${on} ${stored}`;
    let values = this.#values.get(key);
    if (!values) this.#values.set(key, (values = this.grid.readField(on, stored)));
    return values;
  }

  /** The values at some points or cells, in the order asked; taken from all where these have to be read anyway. */
  some(on: "point" | "cell", stored: string, indices: ArrayLike<number>): Float64Array {
    const { grid } = this;
    const known = this.#values.has(`${on} ${stored}`);
    const few = indices.length * 8 <= (on === "point" ? grid.points : grid.cells);
    if (!known && few && grid.readsParts?.(on, stored)) return grid.readSome(on, stored, indices);
    const all = this.values(on, stored);
    const { components } = grid.fields.find((f) => f.on === on && f.name === stored)!;
    return someTuples(all, indices, components);
  }

  /** The bytes of the values that it holds. */
  get heldBytes(): number {
    let bytes = 0;
    for (const v of this.#values.values()) bytes += v.byteLength;
    return bytes;
  }

  /** Its mesh, where that has been read. */
  get loadedMesh(): Mesh | undefined {
    return this.#mesh;
  }

  has(field: NamedField): boolean {
    return this.locationOf(field) !== undefined;
  }

  /** Where this block has a field: as elsewhere, or else at its points or in its cells, whichever it has. */
  locationOf(field: NamedField): "point" | "cell" | undefined {
    const on = (where: "point" | "cell"): boolean =>
      this.grid.fields.some((f) => f.name === field.stored && f.on === where && f.components === field.components);
    if (on(field.on)) return field.on;
    const other = field.on === "point" ? "cell" : "point";
    return field.exact || !on(other) ? undefined : other;
  }
}

/** Blocks whose name fits a pattern. @throws FormatError naming those that are there */
export function blocksNamed(blocks: readonly Block[], match: string, file: string): Block[] {
  const fits = glob(match);
  const found = blocks.filter((b) => b.name === match || fits(b.name) || fits(b.name.split("/").pop()!));
  if (found.length === 0)
    throw new FormatError(
      file,
      `there is no patch or block "${match}"; there is ${blocks.map((b) => `"${b.name}"`).join(", ") || "none"}`,
    );
  return found;
}
