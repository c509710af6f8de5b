import { answerQuestions } from "../threads/answer.js";

/** For tests: uses processor time, sleeps, fails, or dies, as it is asked. */
export interface BurningQuestion {
  /** Seconds of processor time. */
  readonly burn?: number;
  readonly sleep?: number;
  readonly fail?: "plain" | "ours" | "exit" | "memory";
  readonly give?: unknown;
}

let sink = 0;
/** Some milliseconds of plain arithmetic. */
function work(): void {
  for (let i = 0; i < 1e6; i++) sink = Math.sqrt(sink + i);
}

answerQuestions<BurningQuestion>(async (q) => {
  if (q.sleep !== undefined) await new Promise((done) => setTimeout(done, q.sleep! * 1000));
  const start = process.cpuUsage();
  if (q.burn !== undefined) while (process.cpuUsage(start).user / 1e6 < q.burn) work();
  if (q.fail === "plain") throw new Error("what was asked is wrong");
  if (q.fail === "ours") (undefined as unknown as { x: () => void }).x();
  if (q.fail === "exit") process.exit(3);
  if (q.fail === "memory")
    for (const all: number[][] = []; ;) all.push(Array.from({ length: 1e5 }, (_, i) => i + all.length));
  return q.give;
});
