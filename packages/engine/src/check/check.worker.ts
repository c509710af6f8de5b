import { parentPort } from "node:worker_threads";
import { checkedScript } from "./kept-checks.js";
import type { ScriptFiles } from "./library.js";

/** What a thread is asked to check; it answers with a {@link CheckedScript}. */
export interface AskedScript {
  readonly files: ScriptFiles;
  readonly types: Readonly<Record<string, string>>;
  readonly folder: string | undefined;
}

// The compiler, and what every script is checked against, while nobody asks yet.
const ready = import("./index.js").then(({ plainChecker }) => {
  plainChecker().load({ "ready.ts": 'import { study } from "oxtrum";\n' }, {});
  plainChecker().check();
});

parentPort!.once("message", ({ files, types, folder }: AskedScript) => {
  void ready.then(() => checkedScript(files, types, folder)).then((checked) => parentPort!.postMessage(checked));
});
