/** What the caches of a thread may hold together, in bytes. */
let limit = 400e6;
let held = 0;
const caches: ByteCache<unknown>[] = [];

/** Sets how many bytes the geometry caches of this thread may hold together. @returns the limit before */
export function limitCaches(bytes: number): number {
  const before = limit;
  limit = bytes;
  shrink();
  return before;
}

/** The bytes that the geometry caches of this thread hold. */
export const cachedBytes = (): number => held;

/** What else of earlier runs is known. */
const others: (() => void)[] = [];

/** Says how something is forgotten that is kept of meshes outside of these caches. */
export const forgetAlso = (forget: () => void): void => void others.push(forget);

/** Forgets all geometry of earlier runs: what follows is computed as in a new thread. */
export function forgetGeometry(): void {
  limitCaches(limitCaches(0));
  for (const forget of others) forget();
}

/** Drops what was used longest ago, in whichever cache it is, until all fit. */
function shrink(): void {
  while (held > limit) {
    let oldest: ByteCache<unknown> | undefined;
    for (const c of caches) if (c.size > 0 && (!oldest || c.oldest < oldest.oldest)) oldest = c;
    if (!oldest) return;
    oldest.drop();
  }
}

let clock = 0;

/**
 * Geometry that is kept for the next run or time on the same mesh: cuts, pieces, where points lie. All caches of a
 * thread together hold a number of bytes; what was used longest ago goes first. What is larger than all of it is not
 * kept.
 */
export class ByteCache<T> {
  readonly #entries = new Map<string, { readonly value: T; readonly bytes: number; used: number }>();

  constructor() {
    caches.push(this);
  }

  get size(): number {
    return this.#entries.size;
  }

  /** When its least lately used entry was used. */
  get oldest(): number {
    const [first] = this.#entries.values();
    return first?.used ?? Infinity;
  }

  get(key: string): T | undefined {
    const e = this.#entries.get(key);
    if (!e) return undefined;
    this.#entries.delete(key);
    e.used = ++clock;
    this.#entries.set(key, e);
    return e.value;
  }

  set(key: string, value: T, bytes: number): void {
    const before = this.#entries.get(key);
    if (before) held -= before.bytes;
    this.#entries.delete(key);
    if (bytes > limit) return;
    this.#entries.set(key, { value, bytes, used: ++clock });
    held += bytes;
    shrink();
  }

  drop(): void {
    const [first] = this.#entries;
    if (!first) return;
    this.#entries.delete(first[0]);
    held -= first[1].bytes;
  }
}
