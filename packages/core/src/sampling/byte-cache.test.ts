import { afterEach, expect, it } from "@jest/globals";
import { ByteCache, cachedBytes, limitCaches } from "./byte-cache.js";

const before = limitCaches(1000);
limitCaches(0);
limitCaches(1000);
afterEach(() => {
  limitCaches(0);
  limitCaches(1000);
});

it("all caches together hold a number of bytes; what was used longest ago goes first", () => {
  const [a, b] = [new ByteCache<string>(), new ByteCache<string>()];
  a.set("1", "one", 400);
  b.set("2", "two", 400);
  expect(a.get("1")).toBe("one");
  b.set("3", "three", 400);
  expect([a.get("1"), b.get("2"), b.get("3"), cachedBytes()]).toEqual(["one", undefined, "three", 800]);
});
it("what is larger than all of it is not kept, and drops nothing", () => {
  const a = new ByteCache<string>();
  a.set("1", "one", 400);
  a.set("2", "huge", 1001);
  expect([a.get("1"), a.get("2"), cachedBytes()]).toEqual(["one", undefined, 400]);
});
it("an entry that is set again counts once; a limit of nothing empties them", () => {
  const a = new ByteCache<string>();
  a.set("1", "one", 400);
  a.set("1", "uno", 300);
  expect([a.get("1"), cachedBytes()]).toEqual(["uno", 300]);
  expect(limitCaches(0)).toBe(1000);
  expect([a.get("1"), cachedBytes()]).toEqual([undefined, 0]);
  limitCaches(before);
});
