import { describe, expect, it } from "@jest/globals";
import type { LiveMessage } from "@oxtrum/contract";
import { News } from "./news.js";

const numbers = (list: readonly LiveMessage[]): number[] => list.map((m) => m.seq);
const told = (news: News, count: number): LiveMessage[] => {
  const all: LiveMessage[] = [];
  const stop = news.listen((m) => all.push(m));
  for (let k = 0; k < count; k++) news.changed("script", `s${k}.ts`, k);
  stop();
  return all;
};

describe("what happens in the server", () => {
  it("is numbered, and told to all who listen and to nobody else", () => {
    const news = new News();
    expect(news.heard).toBe(false);
    const [a, b]: [LiveMessage[], LiveMessage[]] = [[], []];
    const stop = news.listen((m) => a.push(m));
    news.changed("job", 7, 3);
    news.listen((m) => b.push(m));
    news.changed("study", "small", null);
    stop();
    news.changed("settings", "all", 1);
    expect([numbers(a), numbers(b)]).toEqual([
      [1, 2],
      [2, 3],
    ]);
    expect(a[0]).toEqual({ change: { resource: "job", id: "7", version: 3 }, seq: 1 });
    expect(news.heard).toBe(true);
  });

  it("is told again to who comes back, from where it left off", () => {
    const news = new News();
    const all = told(news, 5);
    expect(numbers(news.since(news.idOf(all[1]!)))).toEqual([3, 4, 5]);
    expect(news.since(news.idOf(all[4]!))).toEqual([]);
  });

  it("is to be asked for anew by who is new, comes from another server, or was away for too long", () => {
    const [news, other] = [new News(), new News()];
    const all = told(news, 2500);
    const anew = [{ resync: true, seq: 2500 }];
    expect(news.since(undefined)).toEqual(anew);
    expect(news.since(news.idOf(all[400]!))).toEqual(anew);
    // Of the last two thousand nothing is lost.
    expect(numbers(news.since(news.idOf(all[499]!)))).toHaveLength(2000);
    const [foreign] = told(other, 1);
    expect(news.since(other.idOf(foreign!))).toEqual(anew);
    for (const odd of ["", ".", "x.y", `${news.idOf(all[0]!).split(".")[0]!}.9999`, "1"])
      expect(news.since(odd)).toEqual(anew);
  });

  it("is nothing yet in a server that has begun, for who has heard nothing", () => {
    expect(new News().since(undefined)).toEqual([{ resync: true, seq: 0 }]);
  });
});
