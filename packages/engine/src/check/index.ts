import { ScriptChecker } from "./service.js";

export { ScriptChecker, type Completion } from "./service.js";
export { libraryDeclarations, type ScriptFiles } from "./library.js";
export { libraryGuide, type GuideChapter, type GuideEntry } from "./guide.js";
export { compileScript, type CompiledScript } from "./strip.js";
export type { ScriptDiagnostic } from "./messages.js";

let checker: ScriptChecker | undefined;
/** One checker a process: it is warm from its second use on. */
export const sharedChecker = (): ScriptChecker => (checker ??= new ScriptChecker());
