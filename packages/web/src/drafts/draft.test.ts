import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { Draft, type Saved, type SaveResult } from "./draft";
import type { DraftStore, KeptDraft } from "./draft-store";

/** A browser's store, which outlives tabs. */
class Memory implements DraftStore {
  readonly kept = new Map<string, KeptDraft>();
  get = (s: string): Promise<KeptDraft | undefined> => Promise.resolve(this.kept.get(s));
  put = (d: KeptDraft): Promise<void> => Promise.resolve(void this.kept.set(d.script, d));
  remove = (s: string): Promise<void> => Promise.resolve(void this.kept.delete(s));
  list = (): Promise<KeptDraft[]> => Promise.resolve([...this.kept.values()]);
}

/** A server with one script: it refuses what builds on an older revision, and may not answer. */
class Server {
  readonly revisions: string[] = ["first\n"];
  up = true;
  get newest(): Saved {
    return { text: this.revisions[this.revisions.length - 1]!, revision: this.revisions.length };
  }
  save = (text: string, base: number): Promise<SaveResult> => {
    if (!this.up) return Promise.resolve({ kind: "failed", why: "The server does not answer." });
    if (text === this.newest.text) return Promise.resolve({ kind: "saved", revision: this.newest.revision });
    if (base !== this.newest.revision) return Promise.resolve({ kind: "conflict", theirs: this.newest });
    this.revisions.push(text);
    return Promise.resolve({ kind: "saved", revision: this.revisions.length });
  };
}

interface Tab {
  readonly draft: Draft;
}
async function tab(server: Server, store: DraftStore = new Memory()): Promise<Tab> {
  return { draft: await Draft.open({ script: "a.ts", store, save: server.save, idle: 1e6 }, server.newest) };
}
const settled = (): Promise<void> => new Promise((done) => setTimeout(done, 0));

describe("a draft", () => {
  it("is in the browser with the first key, and leaves it only when the server has that text", async () => {
    const [server, store] = [new Server(), new Memory()];
    const { draft } = await tab(server, store);
    draft.edit("first\nx");
    await settled();
    expect(store.kept.get("a.ts")).toMatchObject({ text: "first\nx", base: 1, baseText: "first\n" });
    server.up = false;
    await draft.save();
    expect(draft.state).toMatchObject({ text: "first\nx", problem: "The server does not answer." });
    expect(store.kept.size).toBe(1);
    server.up = true;
    await draft.save();
    await settled();
    expect([server.newest, store.kept.size, draft.state.problem]).toEqual([
      { text: "first\nx", revision: 2 },
      0,
      undefined,
    ]);
  });

  it("comes back after a crash, as what it is", async () => {
    const [server, store] = [new Server(), new Memory()];
    (await tab(server, store)).draft.edit("typed");
    await settled();
    const { draft } = await tab(server, store);
    expect(draft.state).toMatchObject({ text: "typed", restored: true, conflict: undefined });
    await draft.save();
    expect(server.newest.text).toBe("typed");
  });

  it("comes back whole, however long it is, from a page that was left before anything was saved", async () => {
    const [server, store] = [new Server(), new Memory()];
    server.up = false;
    const long = "// a line of a long script, with µ and 10 °C\n".repeat(8000);
    (await tab(server, store)).draft.edit(long);
    await settled();
    const { draft } = await tab(server, store);
    expect(draft.state.text.length).toBeGreaterThan(300_000);
    expect(draft.state).toMatchObject({ text: long, restored: true });
    server.up = true;
    await draft.save();
    expect([server.newest.text === long, store.kept.size]).toEqual([true, 0]);
  });

  it("meets a revision from elsewhere as a conflict, and both texts stay among the revisions", async () => {
    const server = new Server();
    const [a, b] = [await tab(server), await tab(server)];
    a.draft.edit("from a\n");
    b.draft.edit("from b\n");
    await a.draft.save();
    await b.draft.arrived(server.newest);
    expect(b.draft.state).toMatchObject({ text: "from b\n", conflict: { text: "from a\n", revision: 2 } });
    await b.draft.save();
    expect(server.revisions).toEqual(["first\n", "from a\n"]);
    await b.draft.resolve("from a\n");
    expect(server.revisions).toEqual(["first\n", "from a\n", "from b\n", "from a\n"]);
    expect(b.draft.state).toMatchObject({ text: "from a\n", conflict: undefined });
    // The other tab follows: its text was not changed since.
    await a.draft.arrived(server.newest);
    expect(a.draft.state.base.revision).toBe(4);
  });

  it("what is typed while it is saved stays a draft", async () => {
    const server = new Server();
    const { draft } = await tab(server);
    draft.edit("one");
    const saving = draft.save();
    // The request is under way.
    await Promise.resolve();
    draft.edit("one two");
    await saving;
    expect(draft.state).toMatchObject({ text: "one two", base: { text: "one", revision: 2 } });
    expect(draft.isChanged).toBe(true);
  });

  it("of several tabs, on a server that comes and goes: no text is ever lost, none replaces another in silence", async () => {
    const step = fc.oneof(
      fc.record({ act: fc.constant("edit" as const), tab: fc.nat(1), text: fc.string({ maxLength: 3 }) }),
      fc.record({ act: fc.constantFrom("save", "crash", "news", "keep", "take"), tab: fc.nat(1) }),
      fc.record({ act: fc.constantFrom("down", "up") }),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(step, { maxLength: 25 }), async (steps) => {
        const server = new Server();
        const stores = [new Memory(), new Memory()];
        const tabs = [await tab(server, stores[0]), await tab(server, stores[1])];
        for (const s of steps) {
          const before = [...server.revisions];
          if (s.act === "down" || s.act === "up") server.up = s.act === "up";
          else if ("tab" in s) {
            const k = s.tab;
            const { draft } = tabs[k]!;
            if (s.act === "edit") {
              // A conflict has to be decided before one goes on typing in the editor.
              if (!draft.state.conflict) draft.edit(s.text);
            } else if (s.act === "save") await draft.save();
            else if (s.act === "news") await draft.arrived(server.newest);
            else if (s.act === "keep") await draft.resolve(draft.state.text);
            else if (s.act === "take") await draft.resolve(draft.state.conflict?.text ?? "");
            else {
              await settled();
              tabs[k] = await tab(server, stores[k]);
              expect(tabs[k]!.draft.state.text === draft.state.text || !draft.isChanged).toBe(true);
            }
          }
          await settled();
          // Revisions are only ever added.
          expect(server.revisions.slice(0, before.length)).toEqual(before);
          tabs.forEach(({ draft }, k) => {
            const { text, base } = draft.state;
            // What is on the screen is on the server or in the browser.
            expect(server.revisions.includes(text) || stores[k]!.kept.get("a.ts")?.text === text).toBe(true);
            expect(server.revisions[base.revision - 1]).toBe(base.text);
          });
        }
      }),
      { numRuns: 60 },
    );
  });
});
