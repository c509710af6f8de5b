/**
 * Unpacks an .xz stream of LZMA2 data (the open .xz file format 1.1.0; LZMA as in the LZMA SDK's specification).
 * Checks of the stream's own are not verified: a mesh's sizes are, by who asks.
 *
 * @param size how long the data are unpacked; more is an error
 * @throws Error where the stream does not hold what it promises
 */
export function unpackXz(input: Uint8Array, size: number): Uint8Array {
  const magic = [0xfd, 0x37, 0x7a, 0x58, 0x5a, 0x00];
  if (magic.some((b, k) => input[k] !== b)) throw new Error("an LZMA block does not begin as an .xz stream");
  const out = new Uint8Array(size);
  let written = 0;
  let at = 12;
  // Blocks until the index, whose first byte is zero.
  while (at < input.length && input[at] !== 0) {
    const header = (input[at]! + 1) * 4;
    const decoder = new Lzma2(input, at + header, out, written);
    written = decoder.run();
    at = decoder.position;
    // To a multiple of four, then over the block's check.
    at += (4 - (at % 4)) % 4;
    at += [0, 4, 4, 4, 8, 8, 8, 16, 16, 16, 32, 32, 32, 64, 64, 64][input[7]! & 15]!;
  }
  if (written !== size) throw new Error("an LZMA block is shorter than it says");
  return out;
}

const TOP = 2 ** 24;
const states = 12;

class Lzma2 {
  position: number;
  #out: number;
  #start: number;
  // --- the range decoder
  #range = 0;
  #code = 0;
  // --- the model
  #lc = 0;
  #lp = 0;
  #pb = 0;
  #state = 0;
  #reps = [0, 0, 0, 0];
  #literal = new Uint16Array(0);
  #isMatch = new Uint16Array(states << 4);
  #isRep = new Uint16Array(states);
  #isRep0 = new Uint16Array(states);
  #isRep1 = new Uint16Array(states);
  #isRep2 = new Uint16Array(states);
  #isRep0Long = new Uint16Array(states << 4);
  #slot = new Uint16Array(4 * 64);
  #special = new Uint16Array(128);
  #align = new Uint16Array(16);
  #lengths = [new Uint16Array(2 + 16 * 8 * 2 + 256), new Uint16Array(2 + 16 * 8 * 2 + 256)] as const;

  constructor(
    private readonly input: Uint8Array,
    position: number,
    private readonly out: Uint8Array,
    written: number,
  ) {
    this.position = position;
    this.#out = written;
    this.#start = written;
  }

  #byte(): number {
    if (this.position >= this.input.length) throw new Error("an LZMA block is cut off");
    return this.input[this.position++]!;
  }

  run(): number {
    for (;;) {
      const control = this.#byte();
      if (control === 0) return this.#out;
      if (control < 0x80) {
        if (control > 2) throw new Error("an LZMA block has an unknown chunk");
        if (control === 1) this.#start = this.#out;
        const n = ((this.#byte() << 8) | this.#byte()) + 1;
        if (this.position + n > this.input.length || this.#out + n > this.out.length)
          throw new Error("an LZMA block is longer than it says");
        this.out.set(this.input.subarray(this.position, this.position + n), this.#out);
        this.position += n;
        this.#out += n;
        continue;
      }
      const unpacked = (((control & 31) << 16) | (this.#byte() << 8) | this.#byte()) + 1;
      const packed = ((this.#byte() << 8) | this.#byte()) + 1;
      const reset = (control >> 5) & 3;
      if (reset === 3) this.#start = this.#out;
      if (reset >= 2) {
        const p = this.#byte();
        if (p >= 225) throw new Error("an LZMA block has properties that cannot be");
        this.#lc = p % 9;
        this.#lp = Math.floor(p / 9) % 5;
        this.#pb = Math.floor(p / 45);
        this.#literal = new Uint16Array(0x300 << (this.#lc + this.#lp));
      }
      if (reset >= 1) this.#resetModel();
      const end = this.position + packed;
      if (end > this.input.length || this.#out + unpacked > this.out.length)
        throw new Error("an LZMA block is longer than it says");
      this.#byte();
      this.#code = 0;
      for (let k = 0; k < 4; k++) this.#code = ((this.#code << 8) | this.#byte()) >>> 0;
      this.#range = 0xffffffff;
      this.#chunk(this.#out + unpacked);
      this.position = end;
    }
  }

  #resetModel(): void {
    this.#state = 0;
    this.#reps = [0, 0, 0, 0];
    for (const p of [
      this.#literal,
      this.#isMatch,
      this.#isRep,
      this.#isRep0,
      this.#isRep1,
      this.#isRep2,
      this.#isRep0Long,
      this.#slot,
      this.#special,
      this.#align,
      ...this.#lengths,
    ])
      p.fill(1024);
  }

  #normalize(): void {
    if (this.#range < TOP) {
      this.#range = (this.#range << 8) >>> 0;
      this.#code = ((this.#code << 8) | this.#byte()) >>> 0;
    }
  }

  #bit(model: Uint16Array, k: number): number {
    const p = model[k]!;
    const bound = (this.#range >>> 11) * p;
    let bit: number;
    if (this.#code < bound) {
      this.#range = bound;
      model[k] = p + ((2048 - p) >> 5);
      bit = 0;
    } else {
      this.#range = (this.#range - bound) >>> 0;
      this.#code = (this.#code - bound) >>> 0;
      model[k] = p - (p >> 5);
      bit = 1;
    }
    this.#normalize();
    return bit;
  }

  #tree(model: Uint16Array, offset: number, bits: number): number {
    let m = 1;
    for (let k = 0; k < bits; k++) m = (m << 1) | this.#bit(model, offset + m);
    return m - (1 << bits);
  }

  #reverse(model: Uint16Array, offset: number, bits: number): number {
    let m = 1;
    let symbol = 0;
    for (let k = 0; k < bits; k++) {
      const b = this.#bit(model, offset + m);
      m = (m << 1) | b;
      symbol |= b << k;
    }
    return symbol;
  }

  #direct(bits: number): number {
    let result = 0;
    for (let k = 0; k < bits; k++) {
      this.#range = this.#range >>> 1;
      const over = this.#code >= this.#range;
      if (over) this.#code = (this.#code - this.#range) >>> 0;
      result = (result << 1) | (over ? 1 : 0);
      this.#normalize();
    }
    return result >>> 0;
  }

  #length(which: 0 | 1, place: number): number {
    const m = this.#lengths[which];
    if (this.#bit(m, 0) === 0) return this.#tree(m, 2 + place * 8, 3);
    if (this.#bit(m, 1) === 0) return 8 + this.#tree(m, 2 + 128 + place * 8, 3);
    return 16 + this.#tree(m, 2 + 256, 8);
  }

  #chunk(end: number): void {
    const { out } = this;
    while (this.#out < end) {
      const written = this.#out - this.#start;
      const place = written & ((1 << this.#pb) - 1);
      if (this.#bit(this.#isMatch, (this.#state << 4) + place) === 0) {
        this.#putLiteral(written);
        continue;
      }
      let length: number;
      if (this.#bit(this.#isRep, this.#state) !== 0) {
        if (this.#bit(this.#isRep0, this.#state) === 0) {
          if (this.#bit(this.#isRep0Long, (this.#state << 4) + place) === 0) {
            this.#state = this.#state < 7 ? 9 : 11;
            this.#copy(1, end);
            continue;
          }
        } else {
          let d: number;
          if (this.#bit(this.#isRep1, this.#state) === 0) d = this.#reps[1]!;
          else {
            if (this.#bit(this.#isRep2, this.#state) === 0) d = this.#reps[2]!;
            else {
              d = this.#reps[3]!;
              this.#reps[3] = this.#reps[2]!;
            }
            this.#reps[2] = this.#reps[1]!;
          }
          this.#reps[1] = this.#reps[0]!;
          this.#reps[0] = d;
        }
        length = this.#length(1, place);
        this.#state = this.#state < 7 ? 8 : 11;
      } else {
        this.#reps = [0, this.#reps[0]!, this.#reps[1]!, this.#reps[2]!];
        length = this.#length(0, place);
        this.#state = this.#state < 7 ? 7 : 10;
        this.#reps[0] = this.#distance(length);
        if (this.#reps[0] === 0xffffffff) throw new Error("an LZMA block ends early");
      }
      this.#copy(length + 2, end);
    }
    void out;
  }

  #putLiteral(written: number): void {
    const previous = written > 0 ? this.out[this.#out - 1]! : 0;
    const context = ((written & ((1 << this.#lp) - 1)) << this.#lc) + (previous >> (8 - this.#lc));
    const offset = 0x300 * context;
    let symbol = 1;
    if (this.#state >= 7) {
      let match = this.out[this.#out - this.#reps[0]! - 1]!;
      do {
        const matchBit = (match >> 7) & 1;
        match = (match << 1) & 0xff;
        const bit = this.#bit(this.#literal, offset + ((1 + matchBit) << 8) + symbol);
        symbol = (symbol << 1) | bit;
        if (matchBit !== bit) break;
      } while (symbol < 0x100);
    }
    while (symbol < 0x100) symbol = (symbol << 1) | this.#bit(this.#literal, offset + symbol);
    this.out[this.#out++] = symbol & 0xff;
    this.#state = this.#state < 4 ? 0 : this.#state < 10 ? this.#state - 3 : this.#state - 6;
  }

  #distance(length: number): number {
    const slot = this.#tree(this.#slot, Math.min(length, 3) * 64, 6);
    if (slot < 4) return slot;
    const direct = (slot >> 1) - 1;
    let distance = ((2 | (slot & 1)) << direct) >>> 0;
    if (slot < 14) distance += this.#reverse(this.#special, distance - slot, direct);
    else {
      distance = (distance + ((this.#direct(direct - 4) << 4) >>> 0)) >>> 0;
      distance = (distance + this.#reverse(this.#align, 0, 4)) >>> 0;
    }
    return distance;
  }

  #copy(length: number, end: number): void {
    const from = this.#out - this.#reps[0]! - 1;
    if (from < this.#start || this.#out + length > end) throw new Error("an LZMA block points outside itself");
    for (let k = 0; k < length; k++) this.out[this.#out + k] = this.out[from + k]!;
    this.#out += length;
  }
}
