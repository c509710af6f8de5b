// The demo's studies for tests, made once; and a copy of those that are not in demo/data yet, where the end-to-end
// tests and the application find them.
import fs from "node:fs";
import path from "node:path";
import { demo, demoData } from "../packages/cli/dist/testing/demo-data.js";

const made = demoData();
const shown = path.join(demo, "data");
fs.mkdirSync(shown, { recursive: true });
for (const study of fs.readdirSync(made)) {
  const target = path.join(shown, study);
  if (fs.existsSync(target)) continue;
  // Whole or not at all.
  const aside = fs.mkdtempSync(path.join(shown, `.copying-${study}-`));
  fs.cpSync(path.join(made, study), aside, { recursive: true });
  fs.chmodSync(aside, 0o755);
  fs.renameSync(aside, target);
}
