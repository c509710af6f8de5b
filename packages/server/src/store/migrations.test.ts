import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { createClient } from "@libsql/client";
import { getTableConfig, type SQLiteTable } from "drizzle-orm/sqlite-core";
import { drizzle } from "drizzle-orm/libsql";
import { migrate } from "drizzle-orm/libsql/migrator";
import { Store } from "./database.js";
import * as schema from "./schema.js";

let folder: string;
beforeEach(() => void (folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-migrations-"))));
afterEach(() => fs.rmSync(folder, { recursive: true, force: true }));
const migrations = fileURLToPath(new URL("../../drizzle", import.meta.url));
const journal = (at: string): { entries: { when: number; tag: string }[] } =>
  JSON.parse(fs.readFileSync(path.join(at, "meta/_journal.json"), "utf8")) as ReturnType<typeof journal>;

/** Tables of a database with their columns and indexes. */
async function tablesOf(file: string): Promise<unknown> {
  const client = createClient({ url: `file:${file}` });
  const rows = async (sql: string): Promise<Record<string, unknown>[]> =>
    (await client.execute(sql)).rows as unknown as Record<string, unknown>[];
  const out: Record<string, unknown> = {};
  for (const { name } of await rows("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")) {
    if (/^(?:sqlite|__drizzle)/.test(String(name))) continue;
    const columns = (await rows(`PRAGMA table_info(${String(name)})`)).map((c) => [c["name"], c["notnull"] === 1]);
    const indexes = (await rows(`PRAGMA index_list(${String(name)})`)).map((i) => String(i["name"]));
    out[String(name)] = { columns: columns.sort(), indexes: indexes.filter((i) => !i.startsWith("sqlite_")).sort() };
  }
  client.close();
  return out;
}

describe("migrations", () => {
  it("make the tables of the schema, with their indexes", async () => {
    (await Store.open(folder)).close();
    const wanted = Object.fromEntries(
      (Object.values(schema) as SQLiteTable[]).map((t) => {
        const c = getTableConfig(t);
        const unique = c.columns.filter((x) => x.isUnique).map((x) => `${c.name}_${x.name}_unique`);
        return [
          c.name,
          {
            columns: c.columns.map((x) => [x.name, x.notNull]).sort(),
            indexes: [...c.indexes.map((i) => i.config.name), ...unique].sort(),
          },
        ];
      }),
    );
    expect(await tablesOf(path.join(folder, "oxtrum.db"))).toEqual(wanted);
  });

  it("bring a database of any earlier version to the same state", async () => {
    (await Store.open(folder)).close();
    const now = await tablesOf(path.join(folder, "oxtrum.db"));
    const { entries, ...head } = journal(migrations);
    for (let k = 1; k < entries.length; k++) {
      const old = fs.mkdtempSync(path.join(folder, "old-"));
      const some = path.join(old, "migrations");
      fs.cpSync(migrations, some, { recursive: true });
      fs.writeFileSync(
        path.join(some, "meta/_journal.json"),
        JSON.stringify({ ...head, entries: entries.slice(0, k) }),
      );
      const client = createClient({ url: `file:${path.join(old, "oxtrum.db")}` });
      await migrate(drizzle(client), { migrationsFolder: some });
      client.close();
      (await Store.open(old)).close();
      expect([k, await tablesOf(path.join(old, "oxtrum.db"))]).toEqual([k, now]);
    }
  });

  it("have times that rise, without which a database would pass one by, and a snapshot of the newest", () => {
    const { entries } = journal(migrations);
    for (let k = 1; k < entries.length; k++) expect(entries[k]!.when).toBeGreaterThan(entries[k - 1]!.when);
    const newest = `${String(entries.length - 1).padStart(4, "0")}_snapshot.json`;
    expect(fs.existsSync(path.join(migrations, "meta", newest))).toBe(true);
  });
});
