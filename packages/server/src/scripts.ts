import { and, desc, eq } from "drizzle-orm";
import { scriptNameSchema, type Script, type ScriptHead } from "@oxtrum/contract";
import { problem } from "./store/problem.js";
import type { Store } from "./store/database.js";
import { jobs, revisions, scripts } from "./store/schema.js";

/** How long revisions that came by themselves take the place of each other. */
const STEP = 600_000;
const MOST_TEXT = 1_000_000;
/** @throws HTTPException 400 for what cannot be a script's name */
function checkName(name: string): void {
  const { error } = scriptNameSchema.safeParse(name);
  if (error) throw problem(400, error.issues[0]!.message);
}

/** Scripts and their revisions. A script's siblings are all other scripts: they can be imported by name. */
export class Scripts {
  /** The newest revision of a script, when it was saved without being asked for. */
  readonly #auto = new Map<number, { readonly number: number; readonly since: number }>();

  constructor(
    private readonly store: Store,
    private readonly changed: (name: string, revision: number | null) => void,
  ) {}

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

  async get(name: string): Promise<Script> {
    const row = (await this.store.db.select().from(scripts).where(eq(scripts.name, name)))[0];
    if (!row) throw problem(404, `There is no script "${name}".`);
    const latest = await this.#latest(row.id);
    return { id: row.id, name, updatedAt: row.updatedAt, revision: latest?.number ?? 0, text: latest?.text ?? "" };
  }

  /**
   * Saves a text as the next revision; an unchanged text keeps its number.
   *
   * @param base the revision that it was edited from, when another one must not be passed over; 0 for a new script
   * @throws HTTPException 409 with the newest revision when that is another one
   */
  async save(name: string, text: string, base?: number, auto = false): Promise<Script> {
    checkName(name);
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
        const there = last?.number ?? 0;
        if (base !== undefined && base !== there)
          throw problem(409, `"${name}" was saved elsewhere: revision ${there} is newer than yours, ${base}.`, {
            where: "base",
            version: there,
          });
        await tx.insert(revisions).values({ scriptId: row.id, number: (last?.number ?? 0) + 1, text, createdAt: now });
        await tx.update(scripts).set({ updatedAt: now }).where(eq(scripts.id, row.id));
        // Revisions that came by themselves, one after the other, are one step for who looks back.
        const step = this.#auto.get(row.id);
        const goesOn = auto && step !== undefined && step.number === last?.number && now - step.since < STEP;
        if (goesOn) {
          const used = await tx
            .select({ id: jobs.id })
            .from(jobs)
            .where(and(eq(jobs.scriptId, row.id), eq(jobs.revision, last.number)))
            .limit(1);
          if (used.length === 0) await tx.delete(revisions).where(eq(revisions.id, last!.id));
        }
        if (auto) this.#auto.set(row.id, { number: there + 1, since: goesOn ? step.since : now });
        else this.#auto.delete(row.id);
      }),
    );
    const saved = await this.get(name);
    this.changed(name, saved.revision);
    return saved;
  }

  async rename(name: string, to: string): Promise<void> {
    checkName(to);
    const row = await this.get(name);
    if ((await this.list()).some((s) => s.name === to)) throw problem(409, `There is a script "${to}" already.`);
    await this.store.write((db) => db.update(scripts).set({ name: to }).where(eq(scripts.id, row.id)));
    this.changed(name, null);
    this.changed(to, row.revision);
  }

  async remove(name: string): Promise<void> {
    await this.store.write((db) => db.delete(scripts).where(eq(scripts.name, name)));
    this.changed(name, null);
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
