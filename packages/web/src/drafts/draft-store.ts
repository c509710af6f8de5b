import { openDB, type DBSchema, type IDBPDatabase } from "idb";

/** A text that is typed and not saved on the server yet. */
export interface KeptDraft {
  readonly script: string;
  readonly text: string;
  /** The revision that it was edited from. */
  readonly base: number;
  /** That revision's text: what changed here and what changed elsewhere are told apart by it. */
  readonly baseText: string;
  readonly at: number;
}

/** Where drafts are kept. */
export interface DraftStore {
  get(script: string): Promise<KeptDraft | undefined>;
  put(draft: KeptDraft): Promise<void>;
  remove(script: string): Promise<void>;
  list(): Promise<KeptDraft[]>;
}

interface Schema extends DBSchema {
  drafts: { key: string; value: KeptDraft };
}

let opened: Promise<IDBPDatabase<Schema>> | undefined;
const database = (): Promise<IDBPDatabase<Schema>> =>
  (opened ??= openDB<Schema>("oxtrum", 1, {
    upgrade: (db) => void db.createObjectStore("drafts", { keyPath: "script" }),
  }));

/** Drafts in this browser's database: they survive a closed tab, a crash and a server that does not answer. */
export const browserDrafts: DraftStore = {
  get: async (script) => (await database()).get("drafts", script),
  put: async (draft) => void (await (await database()).put("drafts", draft, undefined)),
  remove: async (script) => (await database()).delete("drafts", script),
  list: async () => (await database()).getAll("drafts"),
};
