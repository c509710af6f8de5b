import { expect, it } from "@jest/globals";
import { countRoom, NoRoom } from "../formats/index.js";
import { fuzz } from "./fuzz.js";
import { readerTargets } from "./fuzz-targets.js";

// `npm run fuzz` gives each of them three thousand.
it.each(readerTargets.map((t) => [t.name, t] as const))("damaged files do no harm: %s", (_, target) => {
  let room = 0;
  countRoom((bytes) => {
    if ((room += bytes) > 256e6) throw new NoRoom("more than 256 MB");
  });
  try {
    const counted = { ...target, read: (b: Uint8Array) => ((room = 0), target.read(b)) };
    const r = fuzz(counted, 100, 7);
    expect(r.broken).toEqual([]);
    expect(r.refused).toBeGreaterThan(2);
  } finally {
    countRoom(undefined);
  }
});
