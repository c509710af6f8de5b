import { chartStyleSchema } from "@oxtrum/engine";
import { z } from "zod";
import type { Store } from "./store/database.js";
import { settings } from "./store/schema.js";

/** What can be set for the whole server. */
export const settingsSchema = z.object({
  /** Threads of a job; `null` is one a core, eight at most. */
  workers: z.number().int().min(1).max(64).nullable().default(null),
  /** MB of large arrays that a job may hold. */
  memory: z.number().int().min(100).max(1_000_000).default(4000),
  /** Seconds for which a script itself may run, without what it waits for. */
  scriptSeconds: z.number().int().min(1).max(3600).default(60),
  /** MB of results kept between jobs; the oldest go first, when no job runs. */
  cache: z.number().int().min(0).max(10_000_000).default(8000),
  /** How all charts look. */
  style: chartStyleSchema.default({}),
});

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
