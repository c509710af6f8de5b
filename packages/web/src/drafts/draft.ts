import type { DraftStore } from "./draft-store";

/** A revision on the server. */
export interface Saved {
  readonly text: string;
  readonly revision: number;
}

/** What saving gave: the revision, a newer one that somebody else saved, or why it could not be saved now. */
export type SaveResult =
  | { readonly kind: "saved"; readonly revision: number }
  | { readonly kind: "conflict"; readonly theirs: Saved }
  | { readonly kind: "failed"; readonly why: string };

export interface DraftState {
  /** The text as it is typed. */
  readonly text: string;
  /** The newest revision that this text builds on. */
  readonly base: Saved;
  /** A revision of somebody else that differs from the base, while this text does as well. */
  readonly conflict: Saved | undefined;
  readonly saving: boolean;
  /** Why the last attempt to save failed; the text is kept in this browser. */
  readonly problem: string | undefined;
  /** The text was found in this browser when the page opened. */
  readonly restored: boolean;
  /** Counts texts that did not come from the editor: it shows them anew. */
  readonly replaced: number;
}

interface Parts {
  readonly script: string;
  readonly store: DraftStore;
  readonly save: (text: string, base: number, auto: boolean) => Promise<SaveResult>;
  /** Milliseconds without a key after which the text is saved by itself. */
  readonly idle?: number;
}

/** How long after a failure it is tried again. */
const RETRY = 5000;

/**
 * The only owner of a script's unsaved text. Every change goes to the browser's own store at once, and to the server
 * after a pause; it is removed from the browser only when the server has that very text. A revision that was saved
 * elsewhere in between never replaces a changed text, and is never replaced by it: both are shown, and the user
 * decides.
 */
export class Draft {
  #state: DraftState;
  #timer: ReturnType<typeof setTimeout> | undefined;
  /** Writes to the browser's store, one after the other. */
  #writes: Promise<unknown> = Promise.resolve();
  #underWay: Promise<void> | undefined;
  readonly #listeners = new Set<() => void>();

  private constructor(
    private readonly parts: Parts,
    base: Saved,
  ) {
    this.#state = {
      text: base.text,
      base,
      conflict: undefined,
      saving: false,
      problem: undefined,
      restored: false,
      replaced: 0,
    };
  }

  /** Opens a script: with what this browser keeps of it, or as the server has it. */
  static async open(parts: Parts, server: Saved): Promise<Draft> {
    const draft = new Draft(parts, server);
    const kept = await parts.store.get(parts.script).catch(() => undefined);
    if (!kept || kept.text === server.text) {
      if (kept) await parts.store.remove(parts.script).catch(() => undefined);
      return draft;
    }
    const base = { text: kept.baseText, revision: kept.base };
    draft.#state = {
      ...draft.#state,
      text: kept.text,
      base: kept.base === server.revision ? server : base,
      conflict: kept.base === server.revision ? undefined : server,
      restored: true,
    };
    if (!draft.#state.conflict) draft.#later(parts.idle ?? 3000);
    return draft;
  }

  get state(): DraftState {
    return this.#state;
  }

  /** @returns what ends it */
  listen(l: () => void): () => void {
    this.#listeners.add(l);
    return () => void this.#listeners.delete(l);
  }

  get isChanged(): boolean {
    return this.#state.text !== this.#state.base.text;
  }

  #set(change: Partial<DraftState>): void {
    this.#state = { ...this.#state, ...change };
    for (const l of this.#listeners) l();
  }

  #keep(): void {
    const { text, base } = this.#state;
    const { script, store } = this.parts;
    const write = this.isChanged
      ? () => store.put({ script, text, base: base.revision, baseText: base.text, at: Date.now() })
      : () => store.remove(script);
    this.#writes = this.#writes.then(write).catch(() => undefined);
  }

  #later(ms: number): void {
    clearTimeout(this.#timer);
    if (this.#state.conflict) return;
    this.#timer = setTimeout(() => void this.save(true), ms);
  }

  /** Takes a text over from the editor. */
  edit(text: string): void {
    if (text === this.#state.text) return;
    this.#set({ text });
    this.#keep();
    this.#later(this.parts.idle ?? 3000);
  }

  /** Puts another text in the place of this one, as an older revision. */
  replace(text: string): void {
    this.#set({ replaced: this.#state.replaced + 1 });
    this.edit(text);
  }

  /** Saves the text, if it is changed and nothing stands against it. @param auto nobody asked for it */
  async save(auto = false): Promise<void> {
    clearTimeout(this.#timer);
    await this.#underWay;
    if (!this.isChanged && this.#state.problem !== undefined) this.#set({ problem: undefined });
    if (!this.isChanged || this.#state.conflict) return;
    this.#underWay = this.#save(auto).finally(() => (this.#underWay = undefined));
    await this.#underWay;
  }

  async #save(auto: boolean): Promise<void> {
    const { text, base } = this.#state;
    this.#set({ saving: true });
    const result = await this.parts.save(text, base.revision, auto);
    if (result.kind === "saved") this.saved({ text, revision: result.revision });
    else if (result.kind === "conflict") this.#meet(result.theirs);
    else {
      this.#set({ saving: false, problem: result.why });
      this.#later(RETRY);
    }
  }

  /** The server has this text as this revision; what was typed since stays a draft. */
  saved(base: Saved): void {
    this.#set({ base, saving: false, problem: undefined, restored: false, conflict: undefined });
    this.#keep();
    if (this.isChanged) this.#later(this.parts.idle ?? 3000);
  }

  /** Another revision is on the server. An unchanged text follows it; a changed one meets it as a conflict. */
  #meet(theirs: Saved): void {
    if (theirs.text === this.#state.text) return this.saved(theirs);
    if (!this.isChanged && !this.#state.saving) {
      this.#set({ text: theirs.text, base: theirs, replaced: this.#state.replaced + 1 });
      return;
    }
    clearTimeout(this.#timer);
    this.#set({ saving: false, conflict: theirs });
  }

  /** The server tells of a revision that it has now. */
  async arrived(theirs: Saved): Promise<void> {
    await this.#underWay;
    const { base, conflict } = this.#state;
    if (theirs.revision > Math.max(base.revision, conflict?.revision ?? 0)) this.#meet(theirs);
  }

  /**
   * Ends a conflict with a text that the user has decided on. The text that was typed here becomes a revision first
   * when it is not that one: both stay among the revisions.
   */
  async resolve(text: string): Promise<void> {
    const { conflict, text: mine } = this.#state;
    if (!conflict) return;
    let base = conflict;
    if (text !== mine) {
      this.#set({ saving: true });
      const result = await this.parts.save(mine, conflict.revision, false);
      if (result.kind === "failed") return this.#set({ saving: false, problem: result.why });
      if (result.kind === "conflict") return this.#set({ saving: false, conflict: result.theirs });
      base = { text: mine, revision: result.revision };
    }
    this.#set({ text, base, conflict: undefined, saving: false, replaced: this.#state.replaced + 1 });
    this.#keep();
    await this.save();
  }
}
