import { OutputFolder } from "@oxtrum/engine";
import { outputsOf } from "./endure-placing.js";

/** Places one version of outputs after the other in a folder, until it is killed. */
const [folder, first] = process.argv.slice(2) as [string, string];
process.send?.("ready");
for (let k = Number(first); ; k++) {
  const out = OutputFolder.open(folder);
  for (const o of outputsOf(k)) out.write([o]);
  out.place();
}
