import { describe, expect, it } from "@jest/globals";
import { KeptMessages } from "./kept-messages";

const anew = ['{"resync":true,"seq":0}'];
const told = (kept: KeptMessages, epoch: string, from: number, to: number): void => {
  for (let seq = from; seq <= to; seq++) kept.add({ id: `${epoch}.${seq}`, text: `${epoch}${seq}` });
};

describe("a tab that opens while others are there", () => {
  it("gets what came since its page was served, and no more", () => {
    const kept = new KeptMessages("a.4");
    expect(kept.since("a.4")).toEqual([]);
    told(kept, "a", 5, 8);
    expect(kept.since("a.4")).toEqual(["a5", "a6", "a7", "a8"]);
    expect(kept.since("a.7")).toEqual(["a8"]);
    // Served after what this stream has come to: it will come.
    expect(kept.since("a.9")).toEqual([]);
  });

  it("asks for everything where its page is older than the stream, of another server, or of none that is known", () => {
    const kept = new KeptMessages("a.4");
    told(kept, "a", 5, 6);
    for (const id of ["a.3", "b.5", "", "a", "a.x", ".5"]) expect([id, kept.since(id)]).toEqual([id, anew]);
  });

  it("asks for everything after another run of the server began, until its page is of that one", () => {
    const kept = new KeptMessages("a.4");
    told(kept, "a", 5, 6);
    told(kept, "b", 12, 14);
    expect(kept.since("a.6")).toEqual(anew);
    expect(kept.since("b.11")).toEqual(anew);
    expect(kept.since("b.12")).toEqual(["b13", "b14"]);
  });

  it("asks for everything where what was missed is no longer kept", () => {
    const kept = new KeptMessages("");
    told(kept, "a", 0, 2500);
    expect(kept.since("a.499")).toEqual(anew);
    expect(kept.since("a.500")).toHaveLength(2000);
  });
});
