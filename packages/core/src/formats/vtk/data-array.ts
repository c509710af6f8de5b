import { inflateSync } from "node:zlib";
import { FormatError, type ByteSource } from "../source.js";
import { fieldStatus, parseField } from "../text-table/decimal.js";
import { scalarSize, someTuples, type Numbers, type ScalarType } from "../mesh-data.js";
import { unpackLz4 } from "./lz4.js";
import { unpackXz } from "./xz.js";
import { takeRoom } from "../room.js";
import type { XmlElement } from "./xml.js";

export type Compressor = "none" | "zlib" | "lz4" | "lzma";

/** How a file keeps its arrays. */
export interface Encoding {
  readonly littleEndian: boolean;
  readonly headerSize: 4 | 8;
  readonly compressor: Compressor;
  /** Byte at which appended data begin, and whether they are base64. */
  readonly appended: number | undefined;
  readonly appendedBase64: boolean;
}

const typeNames: Readonly<Record<string, ScalarType>> = {
  Int8: "int8",
  UInt8: "uint8",
  Int16: "int16",
  UInt16: "uint16",
  Int32: "int32",
  UInt32: "uint32",
  Int64: "int64",
  UInt64: "uint64",
  Float32: "float32",
  Float64: "float64",
};

const makers = {
  int8: Int8Array,
  uint8: Uint8Array,
  int16: Int16Array,
  uint16: Uint16Array,
  int32: Int32Array,
  uint32: Uint32Array,
  int64: BigInt64Array,
  uint64: BigUint64Array,
  float32: Float32Array,
  float64: Float64Array,
} as const;

/** No array is longer than this, whatever a header says. */
const MOST_BYTES = 32 * 2 ** 30;

/** One array of an XML mesh file: its values are read when they are asked for, whole or in part. */
export class DataArray {
  readonly type: ScalarType;
  readonly components: number;
  readonly name: string;
  readonly claimed: readonly [number, number] | undefined;
  readonly #format: "ascii" | "binary" | "appended";
  readonly #offset: number;

  constructor(
    private readonly source: ByteSource,
    private readonly element: XmlElement,
    private readonly encoding: Encoding,
    /** How many tuples the grid says there are; undefined where the array itself decides. */
    readonly tuples: number | undefined,
  ) {
    const { attributes: a } = element;
    const type = typeNames[a["type"] ?? ""];
    if (!type) throw this.#wrong(`an array of type "${a["type"] ?? ""}" is not read`);
    this.type = type;
    this.components = a["NumberOfComponents"] === undefined ? 1 : Number(a["NumberOfComponents"]);
    if (!Number.isInteger(this.components) || this.components < 1 || this.components > 100)
      throw this.#wrong(`an array has ${a["NumberOfComponents"]} components`);
    this.name = a["Name"] ?? "";
    const low = Number(a["RangeMin"]);
    const high = Number(a["RangeMax"]);
    this.claimed = Number.isFinite(low) && Number.isFinite(high) && low <= high ? [low, high] : undefined;
    const format = a["format"] ?? "ascii";
    if (format !== "ascii" && format !== "binary" && format !== "appended")
      throw this.#wrong(`an array is kept as "${format}"`);
    this.#format = format;
    this.#offset = Number(a["offset"] ?? 0);
    if (format === "appended") {
      if (encoding.appended === undefined) throw this.#wrong("an array points to appended data, but there are none");
      if (!Number.isInteger(this.#offset) || this.#offset < 0 || encoding.appended + this.#offset > source.size)
        throw this.#wrong(`the array "${this.name}" points outside the file`);
    }
  }

  #wrong(message: string, at = this.element.at): FormatError {
    return new FormatError(this.source.name, message, { offset: at });
  }

  get #length(): number | undefined {
    return this.tuples === undefined ? undefined : this.tuples * this.components;
  }

  /** Whether single values can be read without the rest. */
  get plain(): boolean {
    return this.#format === "appended" && !this.encoding.appendedBase64;
  }

  /** All values, as the file keeps them. */
  read(): Numbers {
    const wanted = this.#length;
    if (wanted !== undefined && wanted * scalarSize[this.type] > MOST_BYTES)
      throw this.#wrong(`the array "${this.name}" would hold ${wanted} values`);
    if (wanted === 0) return new makers[this.type](0);
    if (this.#format === "ascii") return this.#ascii(wanted);
    const size = scalarSize[this.type];
    const bytes = this.#whole();
    // Neither less nor more: a longer array means that its values are not where they are taken to be.
    this.#agrees(bytes.length, size);
    const count = wanted ?? bytes.length / size;
    return this.#typed(bytes, count);
  }

  /** @throws FormatError when an array of so many bytes is not the one that the grid needs */
  #agrees(bytes: number, size: number): void {
    const wanted = this.#length;
    if (wanted === undefined ? bytes % size === 0 : bytes === wanted * size) return;
    throw this.#wrong(
      wanted === undefined
        ? `the array "${this.name}" holds ${bytes} bytes, which is not a whole number of values of ${size} bytes`
        : `the array "${this.name}" holds ${bytes / size} values, ${wanted} are needed`,
    );
  }

  /** Bytes as numbers, turned where the file's order is not this machine's. */
  #typed(bytes: Uint8Array, count: number): Numbers {
    const size = scalarSize[this.type];
    takeRoom(count * size);
    const own = new Uint8Array(count * size);
    own.set(bytes.subarray(0, count * size));
    if (!this.encoding.littleEndian && size > 1) {
      const b = Buffer.from(own.buffer);
      if (size === 2) b.swap16();
      else if (size === 4) b.swap32();
      else b.swap64();
    }
    return new makers[this.type](own.buffer, 0, count);
  }

  #ascii(wanted: number | undefined): Numbers {
    const { textStart, textEnd } = this.element;
    // A number takes a character and the blank behind it.
    if (wanted !== undefined && wanted > (textEnd - textStart + 1) / 2 + 1)
      throw this.#wrong(`the array "${this.name}" holds less than the ${wanted} values that are needed`);
    takeRoom(textEnd - textStart + 8 * (wanted ?? (textEnd - textStart) / 2));
    const bytes = this.source.read(textStart, textEnd - textStart);
    const whole = this.type === "int64" || this.type === "uint64";
    const values = new Float64Array(wanted ?? Math.ceil(bytes.length / 2));
    let n = 0;
    let rest = 0;
    for (let p = 0; p < bytes.length && n < values.length;) {
      while (p < bytes.length && bytes[p]! <= 32) p++;
      if (p >= bytes.length) break;
      const start = p;
      while (p < bytes.length && bytes[p]! > 32) p++;
      values[n] = parseField(bytes, start, p, false);
      if (fieldStatus === 2)
        throw this.#wrong(`the array "${this.name}" holds what is not a number`, textStart + start);
      n++;
      rest = p;
    }
    if (wanted !== undefined && n < wanted)
      throw this.#wrong(`the array "${this.name}" holds ${n} values, ${wanted} are needed`);
    if (
      wanted !== undefined &&
      rest < bytes.length &&
      Buffer.from(bytes.subarray(rest)).toString("latin1").trim() !== ""
    )
      throw this.#wrong(`the array "${this.name}" holds more than the ${wanted} values that are needed`);
    const found = values.subarray(0, n);
    if (whole) {
      if (!found.every(Number.isFinite))
        throw this.#wrong(`the array "${this.name}" holds a value that is not a whole number`);
      const big = Array.from(found, (v) => BigInt(Math.trunc(v)));
      return this.type === "int64" ? BigInt64Array.from(big) : BigUint64Array.from(big);
    }
    return new (makers[this.type] as typeof Float64Array)(found);
  }

  /** The bytes of a binary array, unpacked. */
  #whole(): Uint8Array {
    const blocks = this.#blocks();
    const total = blocks.reduce((n, b) => n + b.size, 0);
    this.#agrees(total, scalarSize[this.type]);
    takeRoom(total);
    if (blocks.length === 1) return blocks[0]!.unpack();
    const out = new Uint8Array(total);
    let at = 0;
    for (const b of blocks) {
      out.set(b.unpack(), at);
      at += b.size;
    }
    return out;
  }

  #word(bytes: Uint8Array, k: number): number {
    const size = this.encoding.headerSize;
    if (bytes.length < (k + 1) * size) throw this.#wrong(`the header of the array "${this.name}" is cut off`);
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const value =
      size === 4
        ? view.getUint32(k * 4, this.encoding.littleEndian)
        : Number(view.getBigUint64(k * 8, this.encoding.littleEndian));
    if (value > MOST_BYTES) throw this.#wrong(`the array "${this.name}" claims ${value} bytes`);
    return value;
  }

  /** The blocks in which the array is kept: one when it is not packed. */
  #blocks(): { size: number; unpack: () => Uint8Array }[] {
    const raw = this.#stream();
    const word = this.encoding.headerSize;
    if (this.encoding.compressor === "none") {
      const size = this.#word(raw.read(0, word), 0);
      const expected = this.#length === undefined ? undefined : this.#length * scalarSize[this.type];
      if (expected !== undefined && size !== expected)
        throw this.#wrong(`the array "${this.name}" holds ${size} bytes, ${expected} are needed`);
      // Base64 takes four letters for three bytes: no array is longer than what stands there.
      if (size > this.source.size) throw this.#cut();
      return [{ size, unpack: () => this.#need(raw.read(word, size), size) }];
    }
    const head = raw.read(0, 3 * word);
    const count = this.#word(head, 0);
    const size = this.#word(head, 1);
    const last = this.#word(head, 2);
    if (count === 0) return [];
    if (count > 1e7 || size > 2 ** 31)
      throw this.#wrong(`the array "${this.name}" claims ${count} blocks of ${size} bytes`);
    const packed = raw.read(0, (3 + count) * word);
    const out: { size: number; unpack: () => Uint8Array }[] = [];
    let at = raw.behindHeader((3 + count) * word);
    for (let k = 0; k < count; k++) {
      const length = this.#word(packed, 3 + k);
      const start = at;
      const full = k === count - 1 && last !== 0 ? last : size;
      // Nothing packs better than about a thousand to one: more is not data.
      if (full > 4096 * length + 65536) throw this.#wrong(`a block of the array "${this.name}" would grow without end`);
      out.push({ size: full, unpack: () => this.#unpack(this.#need(raw.read(start, length), length), full) });
      at += length;
    }
    return out;
  }

  #need(bytes: Uint8Array, length: number): Uint8Array {
    if (bytes.length < length) throw this.#cut();
    return bytes;
  }

  #cut(): FormatError {
    return new FormatError(
      this.source.name,
      `the file ends inside the array "${this.name}"`,
      { offset: this.source.size },
      "It is cut off: write it again, or wait until it is whole.",
    );
  }

  #unpack(bytes: Uint8Array, size: number): Uint8Array {
    try {
      if (this.encoding.compressor === "lz4") return unpackLz4(bytes, size);
      if (this.encoding.compressor === "lzma") return unpackXz(bytes, size);
      const out = inflateSync(bytes, { maxOutputLength: Math.max(1, size) });
      if (out.length !== size) throw new Error(`a block holds ${out.length} bytes, ${size} are promised`);
      return out;
    } catch (e) {
      throw this.#wrong(`the array "${this.name}" cannot be unpacked: ${(e as Error).message}`);
    }
  }

  /** The bytes behind the array's header, whatever they are written as. */
  #stream(): { read(at: number, length: number): Uint8Array; behindHeader(length: number): number } {
    const { encoding, source } = this;
    if (this.#format === "appended" && !encoding.appendedBase64) {
      const start = encoding.appended! + this.#offset;
      return { read: (at, length) => source.read(start + at, length), behindHeader: (length) => length };
    }
    let start: number;
    let end: number;
    if (this.#format === "appended") {
      start = encoding.appended! + this.#offset;
      end = source.size;
    } else {
      start = this.element.textStart;
      end = this.element.textEnd;
      const lead = source.read(start, Math.min(4096, end - start));
      let skip = 0;
      while (skip < lead.length && lead[skip]! <= 32) skip++;
      start += skip;
    }
    // Packed arrays have a header of its own base64 run, padded, and the blocks as a second run behind it.
    let second = 0;
    const run = (from: number, at: number, length: number): Uint8Array => {
      const first = Math.floor(at / 3) * 4;
      const text = source.read(
        start + from + first,
        Math.min(end - start - from - first, 4 * Math.ceil((at - Math.floor(at / 3) * 3 + length) / 3)),
      );
      const decoded = Buffer.from(Buffer.from(text).toString("latin1"), "base64");
      const skip = at - Math.floor(at / 3) * 3;
      return decoded.subarray(skip, skip + length);
    };
    return {
      read: (at, length) =>
        second > 0 && at >= second ? run(4 * Math.ceil(second / 3), at - second, length) : run(0, at, length),
      behindHeader: (length) => (second = length),
    };
  }

  /**
   * The values of some tuples, components together; where the file keeps plain or packed blocks, only those needed are
   * read.
   */
  some(indices: ArrayLike<number>): Float64Array {
    const { components: c } = this;
    const size = scalarSize[this.type] * c;
    const many = this.tuples !== undefined && indices.length * 8 > this.tuples;
    if (!this.plain || many) return someTuples(this.read(), indices, c);
    const out = new Float64Array(indices.length * c);
    const order = Uint32Array.from({ length: indices.length }, (_, i) => i).sort((a, b) => indices[a]! - indices[b]!);
    const at = this.#reach();
    for (let i = 0; i < order.length;) {
      // Tuples that lie close together are read together.
      let j = i + 1;
      while (
        j < order.length &&
        (indices[order[j]!]! - indices[order[j - 1]!]!) * size < GAP &&
        (indices[order[j]!]! - indices[order[i]!]!) * size < RUN
      )
        j++;
      const first = indices[order[i]!]!;
      const count = indices[order[j - 1]!]! - first + 1;
      const values = this.#typed(at(first * size, count * size), count * c);
      for (; i < j; i++)
        for (let k = 0; k < c; k++) out[order[i]! * c + k] = Number(values[(indices[order[i]!]! - first) * c + k]!);
    }
    return out;
  }

  /** Gives stretches of the array's bytes. */
  #reach(): (from: number, length: number) => Uint8Array {
    const blocks = this.#blocks();
    if (this.encoding.compressor === "none") {
      const raw = this.#stream();
      const word = this.encoding.headerSize;
      return (from, length) => this.#need(raw.read(word + from, length), length);
    }
    const starts: number[] = [];
    let sum = 0;
    for (const b of blocks) {
      starts.push(sum);
      sum += b.size;
    }
    let held = -1;
    let bytes = new Uint8Array(0);
    return (from, length) => {
      const out = new Uint8Array(length);
      for (let at = 0; at < length;) {
        let k = held >= 0 && starts[held]! <= from + at && from + at < starts[held]! + blocks[held]!.size ? held : -1;
        if (k < 0) {
          let low = 0;
          for (let high = starts.length; high - low > 1;) {
            const middle = (low + high) >> 1;
            if (starts[middle]! <= from + at) low = middle;
            else high = middle;
          }
          k = low;
        }
        const block = blocks[k];
        if (!block || from + at >= starts[k]! + block.size)
          throw this.#wrong(`the array "${this.name}" is shorter than its grid`);
        if (held !== k) bytes = Uint8Array.from(block.unpack());
        held = k;
        const inside = from + at - starts[k]!;
        const n = Math.min(length - at, block.size - inside);
        out.set(bytes.subarray(inside, inside + n), at);
        at += n;
      }
      return out;
    };
  }

  /** Hashes the array's values, however they are kept. */
  digest(hash: (bytes: Uint8Array) => void): void {
    hash(new TextEncoder().encode(`${this.type} ${this.components} `));
    const values = this.read();
    hash(new Uint8Array(values.buffer, values.byteOffset, values.byteLength));
  }
}

const GAP = 4096;
const RUN = 1 << 20;
