import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { ResultCache, trimCache } from "./cache.js";
import { identify, IdentityMemo } from "./identity.js";
import { resultKey, type CacheKey } from "./keys.js";

const k = (text: string): CacheKey => text as CacheKey;
import { packValue, unpackValue } from "./serialize.js";

let folder: string;
beforeEach(() => void (folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-store-"))));
afterEach(() => fs.rmSync(folder, { recursive: true, force: true }));

describe("keys", () => {
  // A change here makes every kept result worthless: it has to be meant.
  it("are what they were", () => {
    expect(resultKey("table.max", 1, { name: "T", x: [0.5, null, true] }, [k("ab")])).toBe(
      "00e2c814721d40ea03623e652563930c1422b1bb643485f149f4a7d289cb75f7",
    );
  });
  it("differ with operation, version, arguments and inputs, and with nothing else", () => {
    const base = resultKey("op", 1, { a: 1, b: [1, "x"] }, [k("k")]);
    expect(resultKey("op", 1, { b: [1, "x"], a: 1, c: undefined }, [k("k")])).toBe(base);
    const others = [
      resultKey("op2", 1, { a: 1, b: [1, "x"] }, [k("k")]),
      resultKey("op", 2, { a: 1, b: [1, "x"] }, [k("k")]),
      resultKey("op", 1, { a: 1, b: [1, "y"] }, [k("k")]),
      resultKey("op", 1, { a: 1, b: [1, "x"] }, [k("l")]),
      resultKey("op", 1, { a: "1", b: [1, "x"] }, [k("k")]),
      resultKey("op", 1, { a: -0, b: [1, "x"] }, [k("k")]),
    ];
    expect(new Set([base, ...others]).size).toBe(7);
    expect(resultKey("op", 1, { a: 0 }, [])).not.toBe(resultKey("op", 1, { a: -0 }, []));
    expect(resultKey("op", 1, { a: NaN }, [])).toBe(resultKey("op", 1, { a: -NaN }, []));
  });
});

describe("values as bytes", () => {
  it("property: come back as they were, wherever they lie in a buffer", () => {
    fc.assert(
      fc.property(
        fc.array(fc.double()),
        fc.string(),
        fc.double(),
        fc.integer({ min: 0, max: 9 }),
        (list, text, x, shift) => {
          const value = {
            kind: "table",
            text,
            x,
            nested: [{ a: Float64Array.from(list) }, { b: Float64Array.from([...list, 1]) }],
          };
          const packed = packValue(value);
          const room = Buffer.alloc(packed.length + shift);
          room.set(packed, shift);
          expect(unpackValue(room.subarray(shift))).toEqual(value);
        },
      ),
    );
  });
});

describe("the cache", () => {
  const value = (k: number): unknown => ({ kind: "quantity", quantity: { value: k, unit: "K" } });
  it("gives back what other processes put there", () => {
    const a = new ResultCache(folder);
    for (let k = 0; k < 50; k++) a.put(`k${k}`, value(k));
    a.flush();
    const b = new ResultCache(folder);
    expect(b.get("k7")).toEqual(value(7));
    expect(b.get("k50")).toBeUndefined();
    expect(fs.readdirSync(folder).every((f) => f.endsWith(".pack"))).toBe(true);
  });
  it("takes a damaged entry for absent, wherever the damage is", () => {
    const a = new ResultCache(folder);
    a.put("k", value(1));
    a.flush();
    const pack = path.join(folder, fs.readdirSync(folder)[0]!);
    const good = fs.readFileSync(pack);
    for (let at = 0; at < good.length; at += 3) {
      const bad = Buffer.from(good);
      bad[at] = bad[at]! ^ 0x55;
      fs.writeFileSync(pack, bad);
      const got = new ResultCache(folder).get("k");
      if (got !== undefined) expect(got).toEqual(value(1));
    }
    fs.writeFileSync(pack, good.subarray(0, good.length - 5));
    expect(new ResultCache(folder).get("k")).toBeUndefined();
  });
  it("makes room by the oldest", () => {
    const a = new ResultCache(folder);
    a.put("k", { v: new Float64Array(1000) });
    a.flush();
    trimCache(folder, 1);
    expect(new ResultCache(folder).get("k")).toBeUndefined();
  });
});

describe("which file is this", () => {
  it("is told from its bytes, remembered by its stamp, and not trusted when young", () => {
    const file = path.join(folder, "a.csv");
    fs.writeFileSync(file, "abc");
    const first = identify(file, "a.csv", new Map());
    // SHA-256 of "abc": FIPS 180-2, appendix B.1.
    expect(first.identity).toEqual({
      size: 3,
      sha256: "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad",
    });
    const memo = new IdentityMemo(folder);
    memo.add([{ ...first.remember!, sha256: "from memory" }]);
    expect(identify(file, "a.csv", memo.entries).identity.sha256).toBe(first.identity.sha256);
    const old = new Date(Date.now() - 60_000);
    fs.utimesSync(file, old, old);
    const second = identify(file, "a.csv", new Map());
    memo.add([{ ...second.remember!, sha256: "from memory" }]);
    expect(identify(file, "a.csv", new IdentityMemo(folder).entries).identity.sha256).toBe("from memory");
    fs.writeFileSync(file, "x");
    expect(() => second.verify()).toThrow(/changed while it was being read/);
  });
  it("is told of a growing file by the length first read, again within the same job", () => {
    const file = path.join(folder, "a.csv");
    fs.writeFileSync(file, "abc");
    const first = identify(file, "a.csv", new Map());
    fs.appendFileSync(file, "def");
    first.verify();
    const pinned = identify(file, "a.csv", new Map(), 3);
    expect(pinned.identity).toEqual(first.identity);
    expect(pinned.bytes).toHaveLength(3);
    expect(pinned.remember).toBeUndefined();
    expect(identify(file, "a.csv", new Map()).identity.size).toBe(6);
  });
});
