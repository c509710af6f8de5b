import { afterEach, beforeEach, describe, expect, it, jest } from "@jest/globals";
import { liveItem, type LiveItem } from "./live-stream";
import { readLiveStream, type Source } from "./read-live-stream";

/** A stream that is told what happens to it. */
class Told implements Source {
  static readonly all: Told[] = [];
  readyState = 1;
  onopen: Source["onopen"] = null;
  onmessage: Source["onmessage"] = null;
  onerror: Source["onerror"] = null;
  closed = false;
  constructor(readonly url: string) {
    Told.all.push(this);
  }
  close(): void {
    this.closed = true;
  }
  say(id: string, m: object): void {
    this.onmessage?.({ data: JSON.stringify(m), lastEventId: id } as MessageEvent<string>);
  }
  fail(readyState: number): void {
    this.readyState = readyState;
    this.onerror?.({} as Event);
  }
}

describe("the live stream", () => {
  beforeEach(() => {
    Told.all.length = 0;
    jest.useFakeTimers();
  });
  afterEach(() => void jest.useRealTimers());

  it("passes on what fits the contract, says when it is broken, and comes back after the last message", () => {
    const got: (LiveItem | undefined)[] = [];
    const end = readLiveStream(
      (m) => got.push(liveItem(m)),
      "",
      (url) => new Told(url),
    );
    const [first] = Told.all;
    first!.onopen?.({} as Event);
    first!.say("e.1", { resync: true, seq: 1 });
    first!.say("e.2", { seq: 2, job: 4, state: "done" });
    first!.say("e.3", { seq: 3, job: 4, state: "unheard of" });
    // A stream that the browser mends by itself, then one that it gives up.
    first!.fail(0);
    expect(Told.all).toHaveLength(1);
    first!.fail(2);
    jest.advanceTimersByTime(3000);
    expect(Told.all[1]!.url).toBe("/api/events?jobs=all&after=e.3");
    expect(got).toEqual([
      { status: "online" },
      { resync: true, seq: 1 },
      { seq: 2, job: 4, state: "done" },
      undefined,
      { status: "offline" },
      { status: "offline" },
    ]);
    end();
    expect(Told.all[1]!.closed).toBe(true);
    jest.advanceTimersByTime(10_000);
    expect(Told.all).toHaveLength(2);
  });

  it("begins after the message after which the page was served: nothing is asked for twice", () => {
    const end = readLiveStream(
      () => undefined,
      "e.7",
      (url) => new Told(url),
    );
    expect(Told.all[0]!.url).toBe("/api/events?jobs=all&after=e.7");
    end();
  });

  it("has nothing of a message that is cut off, or of another shape", () => {
    for (const text of ["", "{", "null", "[]", '{"seq":"1"}', '{"seq":2,"job":4}'])
      expect([text, liveItem({ text })]).toEqual([text, undefined]);
  });
});
