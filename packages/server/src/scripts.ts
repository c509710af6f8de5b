import { and, desc, eq } from "drizzle-orm";
import { problem } from "./store/problem.js";
import type { Store } from "./store/database.js";
import { revisions, scripts } from "./store/schema.js";

export interface ScriptHead {
  readonly id: number;
  readonly name: string;
  readonly revision: number;
  readonly updatedAt: number;
}

const MOST_TEXT = 1_000_000;
const nameRule = /^[\p{L}\p{N}][\p{L}\p{N}._-]{0,98}\.ts$/u;

/** Scripts and their revisions. A script's siblings are all other scripts: they can be imported by name. */
export class Scripts {
  constructor(private readonly store: Store) {}

  async list(): Promise<ScriptHead[]> {
    const rows = await this.store.db.select().from(scripts).orderBy(scripts.name);
    const heads: ScriptHead[] = [];
    for (const s of rows)
      heads.push({ id: s.id, name: s.name, updatedAt: s.updatedAt, revision: (await this.#latest(s.id))?.number ?? 0 });
    return heads;
  }

  async #latest(scriptId: number): Promise<{ number: number; text: string; createdAt: number } | undefined> {
    return (
      await this.store.db
        .select()
        .from(revisions)
        .where(eq(revisions.scriptId, scriptId))
        .orderBy(desc(revisions.number))
        .limit(1)
    )[0];
  }

  async get(name: string): Promise<ScriptHead & { text: string }> {
    const row = (await this.store.db.select().from(scripts).where(eq(scripts.name, name)))[0];
    if (!row) throw problem(404, `There is no script "${name}".`);
    const latest = await this.#latest(row.id);
    return { id: row.id, name, updatedAt: row.updatedAt, revision: latest?.number ?? 0, text: latest?.text ?? "" };
  }

  /** Keeps a text as the next revision; an unchanged text keeps its number. */
  async save(name: string, text: string): Promise<ScriptHead> {
    if (!nameRule.test(name))
      throw problem(400, 'A script\'s name holds letters, digits, dots and dashes, and ends in ".ts".');
    if (text.length > MOST_TEXT) throw problem(413, "A script holds at most a million characters.");
    const now = Date.now();
    await this.store.write((db) =>
      db.transaction(async (tx) => {
        let row = (await tx.select().from(scripts).where(eq(scripts.name, name)))[0];
        row ??= (await tx.insert(scripts).values({ name, createdAt: now, updatedAt: now }).returning())[0]!;
        const last = (
          await tx
            .select()
            .from(revisions)
            .where(eq(revisions.scriptId, row.id))
            .orderBy(desc(revisions.number))
            .limit(1)
        )[0];
        if (last?.text === text) return;
        await tx.insert(revisions).values({ scriptId: row.id, number: (last?.number ?? 0) + 1, text, createdAt: now });
        await tx.update(scripts).set({ updatedAt: now }).where(eq(scripts.id, row.id));
      }),
    );
    return this.get(name);
  }

  async rename(name: string, to: string): Promise<void> {
    if (!nameRule.test(to))
      throw problem(400, 'A script\'s name holds letters, digits, dots and dashes, and ends in ".ts".');
    const row = await this.get(name);
    if ((await this.list()).some((s) => s.name === to)) throw problem(409, `There is a script "${to}" already.`);
    await this.store.write((db) => db.update(scripts).set({ name: to }).where(eq(scripts.id, row.id)));
  }

  async remove(name: string): Promise<void> {
    await this.store.write((db) => db.delete(scripts).where(eq(scripts.name, name)));
  }

  async revisions(name: string): Promise<{ number: number; createdAt: number; size: number }[]> {
    const { id } = await this.get(name);
    const rows = await this.store.db
      .select()
      .from(revisions)
      .where(eq(revisions.scriptId, id))
      .orderBy(desc(revisions.number));
    return rows.map((r) => ({ number: r.number, createdAt: r.createdAt, size: r.text.length }));
  }

  async revision(name: string, number: number): Promise<string> {
    const { id } = await this.get(name);
    const row = (
      await this.store.db
        .select()
        .from(revisions)
        .where(and(eq(revisions.scriptId, id), eq(revisions.number, number)))
    )[0];
    if (!row) throw problem(404, `Script "${name}" has no revision ${number}.`);
    return row.text;
  }

  /** The script and all modules that it imports, directly or not, with `text` in place of what is kept of it. */
  async withSiblings(name: string, text: string): Promise<Record<string, string>> {
    const files: Record<string, string> = { [name]: text };
    const names = new Set((await this.list()).map((s) => s.name));
    const waiting = [text];
    while (waiting.length > 0) {
      for (const m of waiting.pop()!.matchAll(/(?:import|export)[^"';]*?from\s*["']\.\/([\w.-]+)["']/g)) {
        const found = [m[1]!, `${m[1]!}.ts`, m[1]!.replace(/\.js$/, ".ts")].find((n) => names.has(n));
        if (found === undefined || Object.hasOwn(files, found)) continue;
        files[found] = (await this.get(found)).text;
        waiting.push(files[found]);
      }
    }
    return files;
  }
}
