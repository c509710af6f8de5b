import fs from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { createClient, type Client } from "@libsql/client";
import { drizzle, type LibSQLDatabase } from "drizzle-orm/libsql";
import { migrate } from "drizzle-orm/libsql/migrator";
import * as schema from "./schema.js";

export type Database = LibSQLDatabase<typeof schema>;

/** The server's own memory: studies, scripts, jobs. Only the server writes it, one write after the other. */
export class Store {
  #tail: Promise<unknown> = Promise.resolve();

  private constructor(
    readonly db: Database,
    private readonly client: Client,
  ) {}

  static async open(folder: string): Promise<Store> {
    fs.mkdirSync(folder, { recursive: true });
    const client = createClient({ url: `file:${path.join(folder, "oxtrum.db")}` });
    await client.execute("PRAGMA journal_mode=WAL");
    await client.execute("PRAGMA foreign_keys=ON");
    const db = drizzle(client, { schema });
    await migrate(db, { migrationsFolder: fileURLToPath(new URL("../../drizzle", import.meta.url)) });
    return new Store(db, client);
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
