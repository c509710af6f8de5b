import { ScriptChecker } from "./service.js";

export { ScriptChecker, libraryDeclarations, type Completion, type ScriptFiles } from "./service.js";
export { libraryGuide, type GuideChapter, type GuideEntry } from "./guide.js";
export { compileScript, type CompiledScript } from "./strip.js";
export type { ScriptDiagnostic } from "./messages.js";

let checker: ScriptChecker | undefined;
/** One checker a process: it is warm from its second use on. */
export const sharedChecker = (): ScriptChecker => (checker ??= new ScriptChecker());
