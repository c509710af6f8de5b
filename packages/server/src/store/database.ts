import path from "node:path";
import { fileURLToPath } from "node:url";
import { createClient, type Client } from "@libsql/client";
import { drizzle, type LibSQLDatabase } from "drizzle-orm/libsql";
import { migrate } from "drizzle-orm/libsql/migrator";
import { DataFolderError } from "./data-folder.js";
import * as schema from "./schema.js";

export type Database = LibSQLDatabase<typeof schema>;

/** What is wrong with the database, in words; statements and paths stay on this side. */
export function databaseReason(e: unknown): string {
  const texts: string[] = [];
  for (let c = e as { message?: string; code?: string; cause?: unknown } | undefined; c; c = c.cause as typeof c)
    texts.push(`${c.code ?? ""} ${c.message ?? ""}`);
  const text = texts.join(" ");
  if (/NOTADB|not a database|malformed|CORRUPT/i.test(text))
    return "it is damaged; move it away to begin with an empty one, or put a copy in its place (folders of its jobs are kept)";
  if (/FULL|disk is full|ENOSPC/i.test(text)) return "the disk is full; free some space";
  if (/READONLY|readonly/i.test(text))
    return "it is read-only; change its permissions, or set OXTRUM_DATA to another folder";
  if (/CANTOPEN|unable to open|EACCES/i.test(text)) return "it cannot be opened; check its permissions";
  if (/BUSY|locked/i.test(text)) return "another program has it open; close that";
  if (/IOERR|disk I\/O/i.test(text)) return "the disk reports an error; check it";
  return "it was not written by this version; set OXTRUM_DATA to another folder";
}

/** Whether an error comes from the database. */
export const isDatabaseError = (e: unknown): boolean => {
  for (let c = e as { name?: string; code?: unknown; cause?: unknown } | undefined; c; c = c.cause as typeof c)
    if (c.name === "LibsqlError" || c.name === "DrizzleQueryError" || String(c.code ?? "").startsWith("SQLITE_"))
      return true;
  return false;
};

/** The server's own memory: studies, scripts, jobs. Only the server writes it, one write after the other. */
export class Store {
  #tail: Promise<unknown> = Promise.resolve();

  private constructor(
    readonly db: Database,
    private readonly client: Client,
  ) {}

  static async open(folder: string): Promise<Store> {
    const file = path.join(folder, "oxtrum.db");
    let client: Client | undefined;
    try {
      client = createClient({ url: `file:${file}` });
      await client.execute("PRAGMA journal_mode=WAL");
      await client.execute("PRAGMA foreign_keys=ON");
      const { rows } = await client.execute("PRAGMA quick_check(1)");
      if (String(rows[0]?.[0] ?? "ok") !== "ok") throw new Error("malformed");
      const db = drizzle(client, { schema });
      await migrate(db, { migrationsFolder: fileURLToPath(new URL("../../drizzle", import.meta.url)) });
      return new Store(db, client);
    } catch (e) {
      client?.close();
      throw new DataFolderError(`The database ${file} cannot be used: ${databaseReason(e)}.`);
    }
  }

  /** Queues a write behind those under way; the database takes one writer at a time. Never call it within itself. */
  write<T>(work: (db: Database) => Promise<T>): Promise<T> {
    const result = this.#tail.then(() => work(this.db));
    this.#tail = result.then(
      () => undefined,
      () => undefined,
    );
    return result;
  }

  close(): void {
    this.client.close();
  }
}
