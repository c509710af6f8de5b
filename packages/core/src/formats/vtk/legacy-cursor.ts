import { FormatError, type ByteSource } from "../source.js";
import { scalarSize, someTuples, type Numbers, type ScalarType } from "../mesh-data.js";
import { takeRoom } from "../room.js";
import { fieldStatus, parseField } from "../text-table/decimal.js";

const types: Readonly<Record<string, ScalarType>> = {
  char: "int8",
  signed_char: "int8",
  unsigned_char: "uint8",
  short: "int16",
  unsigned_short: "uint16",
  int: "int32",
  unsigned_int: "uint32",
  long: "int64",
  unsigned_long: "uint64",
  vtkidtype: "int32",
  vtktypeint64: "int64",
  vtktypeuint64: "uint64",
  vtktypeint32: "int32",
  float: "float32",
  double: "float64",
};

/** Where an array stands in the file. */
export interface Stored {
  readonly type: ScalarType;
  readonly count: number;
  readonly at: number;
}

/** Goes through a legacy file: words and lines of text, arrays in text or in bytes. */
export class Cursor {
  at = 0;
  binary = false;
  #window: Uint8Array = new Uint8Array(0);
  #windowAt = 0;

  constructor(readonly source: ByteSource) {}

  wrong(message: string, at = this.at): FormatError {
    return new FormatError(
      this.source.name,
      message,
      { offset: at },
      at >= this.source.size ? "The file may be cut off." : undefined,
    );
  }

  #byte(at: number): number {
    if (at < this.#windowAt || at >= this.#windowAt + this.#window.length) {
      this.#window = this.source.read(at, 1 << 20);
      this.#windowAt = at;
      if (this.#window.length === 0) return -1;
    }
    return this.#window[at - this.#windowAt]!;
  }

  line(): string | undefined {
    if (this.at >= this.source.size) return undefined;
    const start = this.at;
    while (this.#byte(this.at) >= 0 && this.#byte(this.at) !== 10 && this.at - start < 65536) this.at++;
    const text = Buffer.from(this.source.read(start, this.at - start)).toString("utf8");
    this.at++;
    return text.replace(/\r$/, "").trim();
  }

  /** The next line that is not blank, as words. */
  words(): string[] | undefined {
    for (;;) {
      const l = this.line();
      if (l === undefined) return undefined;
      if (l !== "") return l.split(/\s+/);
    }
  }

  /** Steps over an array and remembers where it stands. */
  array(typeName: string, count: number): Stored {
    const type = Object.hasOwn(types, typeName.toLowerCase()) ? types[typeName.toLowerCase()]! : undefined;
    if (!type) throw this.wrong(`an array of type "${typeName}" is not read`);
    if (!Number.isInteger(count) || count < 0 || count > 2 ** 40) throw this.wrong(`an array claims ${count} values`);
    const at = this.at;
    if (this.binary) {
      this.at += count * scalarSize[type];
      if (this.at > this.source.size) throw this.wrong(`an array of ${count} values ends behind the file`, at);
    } else {
      for (let n = 0; n < count; n++) {
        while (this.#byte(this.at) >= 0 && this.#byte(this.at) <= 32) this.at++;
        if (this.#byte(this.at) < 0) throw this.wrong(`an array of ${count} values ends after ${n}`);
        while (this.#byte(this.at) > 32) this.at++;
      }
    }
    return { type, count, at };
  }

  read({ type, count, at }: Stored): Numbers {
    if (!this.binary) {
      takeRoom(8 * count);
      const values = new Float64Array(count);
      let p = at;
      for (let n = 0; n < count; n++) {
        while (this.#byte(p) >= 0 && this.#byte(p) <= 32) p++;
        const start = p;
        while (this.#byte(p) > 32) p++;
        const bytes = this.source.read(start, p - start);
        values[n] = parseField(bytes, 0, bytes.length, false);
        if (fieldStatus === 2) throw this.wrong("an array holds what is not a number", start);
      }
      return type === "float32" ? new Float64Array(new Float32Array(values)) : values;
    }
    const size = scalarSize[type];
    takeRoom(2 * count * size);
    const bytes = Uint8Array.from(this.source.read(at, count * size));
    if (bytes.length < count * size) throw this.wrong("an array is cut off", at);
    const turned = Buffer.from(bytes.buffer);
    if (size === 2) turned.swap16();
    else if (size === 4) turned.swap32();
    else if (size === 8) turned.swap64();
    const b = bytes.buffer;
    switch (type) {
      case "int8":
        return new Int8Array(b);
      case "uint8":
        return new Uint8Array(b);
      case "int16":
        return new Int16Array(b);
      case "uint16":
        return new Uint16Array(b);
      case "int32":
        return new Int32Array(b);
      case "uint32":
        return new Uint32Array(b);
      case "int64":
        return new BigInt64Array(b);
      case "uint64":
        return new BigUint64Array(b);
      case "float32":
        return new Float32Array(b);
      case "float64":
        return new Float64Array(b);
    }
  }

  /** Some tuples of an array: of a binary file only these are read. */
  some(stored: Stored, components: number, indices: ArrayLike<number>): Float64Array {
    if (this.binary && indices.length * 8 < stored.count / components) {
      const out = new Float64Array(indices.length * components);
      const size = scalarSize[stored.type];
      for (let i = 0; i < indices.length; i++) {
        const part = this.read({
          type: stored.type,
          count: components,
          at: stored.at + indices[i]! * components * size,
        });
        for (let k = 0; k < components; k++) out[i * components + k] = Number(part[k]!);
      }
      return out;
    }
    return someTuples(this.read(stored), indices, components);
  }
}
