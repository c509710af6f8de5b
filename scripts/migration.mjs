// Makes a migration of the database from its schema: npm run migration -- NAME. The tool that compares the schema with
// the last snapshot is fetched for it, and is no dependency of the product.
import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { root, run } from "./ensure.mjs";

const [name] = process.argv.slice(2);
if (!name || !/^[a-z0-9_]+$/.test(name)) {
  process.stderr.write("Name the migration: npm run migration -- job_indexes\n");
  process.exit(1);
}
run("npm", ["install", "--no-save", "--no-audit", "--no-fund", "drizzle-kit@0.31.11"]);
run(process.execPath, [path.join(root, "node_modules/drizzle-kit/bin.cjs"), "generate", "--name", name], {
  cwd: path.join(root, "packages/server"),
});

// A database takes those that are later than its last one: their times have to rise, whatever the clock says.
const journal = path.join(root, "packages/server/drizzle/meta/_journal.json");
const { entries, ...head } = JSON.parse(readFileSync(journal, "utf8"));
entries.forEach((e, k) => {
  if (k > 0 && e.when <= entries[k - 1].when) e.when = entries[k - 1].when + 1;
});
writeFileSync(journal, `${JSON.stringify({ ...head, entries }, null, 2)}\n`);
