import { parentPort } from "node:worker_threads";
import { sharedChecker, stripTypes } from "@oxtrum/engine/check";
import type { CheckAnswer, CheckRequest } from "./protocol.js";

/** The language service, in a thread that can be ended when it takes too long. */
const checker = sharedChecker();

parentPort!.on("message", (m: CheckRequest) => {
  let answer: CheckAnswer;
  try {
    checker.load(m.files, m.types);
    if (m.kind === "check") {
      const diagnostics = checker.check(m.gaps);
      const good = !diagnostics.some((d) => d.severity === "error");
      answer = { id: m.id, value: { diagnostics, ...(good && { compiled: stripTypes(m.files) }) } };
    } else if (m.kind === "complete") answer = { id: m.id, value: checker.complete(m.file, m.offset) ?? null };
    else answer = { id: m.id, value: checker.hover(m.file, m.offset) ?? null };
  } catch (e) {
    answer = { id: m.id, error: (e as Error).message };
  }
  parentPort!.postMessage(answer);
});
