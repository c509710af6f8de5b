import { chartStyleSchema } from "@oxtrum/engine";
import type { z } from "zod";
import * as contract from "@oxtrum/contract";
import type { Store } from "./store/database.js";
import { settings } from "./store/schema.js";

/** What can be set for the whole server. */
export const settingsSchema = contract.settingsSchema.extend({ style: chartStyleSchema.default({}) });

export type ServerSettings = z.infer<typeof settingsSchema>;

/** The settings, kept in the store. */
export class Settings {
  constructor(private readonly store: Store) {}

  async get(): Promise<ServerSettings> {
    const rows = await this.store.db.select().from(settings);
    const parsed = settingsSchema.safeParse(Object.fromEntries(rows.map((r) => [r.key, r.value])));
    return parsed.success ? parsed.data : settingsSchema.parse({});
  }

  async set(given: ServerSettings): Promise<ServerSettings> {
    await this.store.write((db) =>
      db.transaction(async (tx) => {
        for (const [key, value] of Object.entries(given))
          await tx.insert(settings).values({ key, value }).onConflictDoUpdate({ target: settings.key, set: { value } });
      }),
    );
    return this.get();
  }
}
