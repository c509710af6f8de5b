import fs from "node:fs";
import { startupSnapshot } from "node:v8";
import { READY, type AskedScript } from "./check-protocol.js";
import { ScriptChecker } from "./service.js";

/**
 * The program whose memory is kept as an image when the bundle is made: the compiler, with what scripts are checked
 * against. A process that starts from it reads one script, and says what it found; see `check-process.ts`.
 */
const checker = new ScriptChecker(false);
for (const text of [process.env.OXTRUM_SAMPLE!, 'import { study } from "oxtrum";\n']) {
  checker.load({ "sample.ts": text }, {});
  checker.check();
}

startupSnapshot.setDeserializeMainFunction(() => {
  fs.writeFileSync(1, READY);
  const { files, types } = JSON.parse(fs.readFileSync(0, "utf8")) as AskedScript;
  checker.load(files, types);
  fs.writeFileSync(1, JSON.stringify(checker.check()));
});
