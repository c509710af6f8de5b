import { afterEach, describe, expect, it } from "@jest/globals";
import type { HTTPException } from "hono/http-exception";
import type { BurningQuestion } from "../testing/burning.worker.js";
import { AnsweringThread } from "./answering-thread.js";
import { WorkQueue } from "./work-queue.js";

let thread: AnsweringThread<BurningQuestion>;
afterEach(() => thread.close());
const start = (seconds: number, more = {}): void => {
  const module = new URL("../testing/burning.worker.js", import.meta.url);
  thread = new AnsweringThread<BurningQuestion>(module, { seconds, late: "too late", memory: 64, ...more });
};
const failure = (p: Promise<unknown>): Promise<string> =>
  p.then(
    () => "answered",
    (e: HTTPException) => `${e.status ?? "ours"} ${e.message}`,
  );

describe("a thread that answers", () => {
  it("fails the late question alone; those that wait go to a new thread", async () => {
    start(0.5);
    const late = failure(thread.ask({ burn: 1e9 }));
    const after = [thread.ask({ give: 1 }), thread.ask({ give: 2 })];
    expect(await late).toBe("503 too late");
    expect(await Promise.all(after)).toEqual([1, 2]);
  });
  it("counts processor time from when work begins, not what it waits for", async () => {
    start(0.6);
    const answers = [
      thread.ask({ burn: 0.3, give: 1 }),
      thread.ask({ burn: 0.3, give: 2 }),
      thread.ask({ burn: 0.3, sleep: 0.5, give: 3 }),
    ];
    expect(await Promise.all(answers)).toEqual([1, 2, 3]);
  });
  it("goes on after a mistake, a death and a want of memory", async () => {
    start(60);
    expect(await failure(thread.ask({ fail: "plain" }))).toBe("400 what was asked is wrong");
    expect(await failure(thread.ask({ fail: "ours" }))).toMatch(/^ours Cannot read prop/);
    expect(await failure(thread.ask({ fail: "exit" }))).toMatch(/^503 .*its thread ended/);
    expect(await failure(thread.ask({ fail: "memory" }))).toMatch(/^503 .*more memory/);
    expect(await thread.ask({ give: "well" })).toBe("well");
  });
  it("takes no more questions than it may keep, and none at the end", async () => {
    start(60, { waiting: 2 });
    const asked = Array.from({ length: 6 }, (_, k) => failure(thread.ask({ sleep: 0.1, give: k })));
    expect((await Promise.all(asked)).filter((a) => /^503 .*too much to do/.test(a))).toHaveLength(3);
    const open = failure(thread.ask({ sleep: 60 }));
    thread.close();
    expect(await open).toMatch(/^503 The server ends/);
  });
});

it("a queue runs few things at once, in order, and refuses what is too much", async () => {
  start(1);
  const queue = new WorkQueue(2, 3);
  let running = 0;
  let most = 0;
  const work = async (): Promise<string> => {
    most = Math.max(most, ++running);
    await new Promise((done) => setTimeout(done, 20));
    running--;
    return "done";
  };
  const all = await Promise.all(Array.from({ length: 7 }, () => failure(queue.run(work))));
  expect([most, all.filter((a) => a.startsWith("503")).length, all.filter((a) => a === "answered").length]).toEqual([
    2, 2, 5,
  ]);
  await expect(queue.run(() => Promise.reject(new Error("no")))).rejects.toThrow("no");
  expect(await queue.run(work)).toBe("done");
});
