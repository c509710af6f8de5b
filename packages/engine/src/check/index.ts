/**
 * Checking scripts: their texts and the studies' types go in; mistakes with their place and cure, completions,
 * hovers, the guide, and scripts as JavaScript come out. The compiler is loaded here and nowhere else, and only when
 * no kept check fits (`kept-checks.ts`). May import verbs (for declarations) and definition.
 */
// First: all others find the compiler loaded.
import "./compiler.js";
import { ScriptChecker } from "./service.js";

export { ScriptChecker, type Completion } from "./service.js";
export { libraryDeclarations, type ScriptFiles } from "./library.js";
export { libraryGuide, type GuideChapter, type GuideEntry } from "./guide.js";
export { additionChanges, changed, emittedExpression, type EmittedExpression, type TextChange } from "./edits.js";
export { compileScript, type CompiledScript } from "./strip.js";
export type { ScriptDiagnostic } from "./messages.js";

let checker: ScriptChecker | undefined;
/** One checker per process: it is warm from its second use on. */
export const sharedChecker = (): ScriptChecker => (checker ??= new ScriptChecker());

let plain: ScriptChecker | undefined;
/** One that only looks for mistakes: it has no doc comments to show, and is ready sooner. */
export const plainChecker = (): ScriptChecker => checker ?? (plain ??= new ScriptChecker(false));
