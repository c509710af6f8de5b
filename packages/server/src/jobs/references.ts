import { eq } from "drizzle-orm";
import type { Store } from "../store/database.js";
import { settings } from "../store/schema.js";

const KEY = "references";

/** Which job of each script is the approved one, against which others are held. */
export class References {
  constructor(private readonly store: Store) {}

  async all(): Promise<Readonly<Record<string, number>>> {
    const row = (await this.store.db.select().from(settings).where(eq(settings.key, KEY)))[0];
    return (row?.value as Record<string, number> | undefined) ?? {};
  }

  /** Pins a job for its script, or with undefined takes the pin away. */
  async pin(script: string, job: number | undefined): Promise<void> {
    const { [script]: _, ...rest } = await this.all();
    const value = job === undefined ? rest : { ...rest, [script]: job };
    await this.store.write((db) =>
      db.insert(settings).values({ key: KEY, value }).onConflictDoUpdate({ target: settings.key, set: { value } }),
    );
  }
}
