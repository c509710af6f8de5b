import { additionChanges, changed, compileScript, emittedExpression, sharedChecker } from "@oxtrum/engine/check";
import { answerQuestions } from "../threads/answer.js";
import type { Checked } from "./checker.js";
import type { CheckRequest, MaterialRequest } from "./protocol.js";

/** The language service, in a thread that can be ended when it takes too long. */
const checker = sharedChecker();

const compiledOf = (files: MaterialRequest["files"]): Checked => {
  const { modules, diagnostics } = compileScript(files);
  return { diagnostics, ...(modules && { compiled: modules }) };
};

answerQuestions<CheckRequest>((m) => {
  if (m.kind === "addition") {
    const changes = additionChanges(m.text, m.lines, m.given);
    return { changes, text: changed(m.text, changes) };
  }
  if (m.kind === "emitted") return emittedExpression(m.text, m.output);
  if (m.kind === "compile") return compiledOf(m.files);
  checker.load(m.files, m.types);
  if (m.kind !== "check")
    return (m.kind === "complete" ? checker.complete(m.file, m.offset) : checker.hover(m.file, m.offset)) ?? null;
  const diagnostics = checker.check(m.gaps);
  return diagnostics.some((d) => d.severity === "error") ? { diagnostics } : { ...compiledOf(m.files), diagnostics };
});
