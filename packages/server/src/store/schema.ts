import { index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";

/** A folder of results that the server may read. */
export const studies = sqliteTable("studies", {
  id: integer("id").primaryKey({ autoIncrement: true }),
  name: text("name").notNull().unique(),
  folder: text("folder").notNull(),
  createdAt: integer("created_at").notNull(),
});

export const scripts = sqliteTable("scripts", {
  id: integer("id").primaryKey({ autoIncrement: true }),
  name: text("name").notNull().unique(),
  createdAt: integer("created_at").notNull(),
  updatedAt: integer("updated_at").notNull(),
});

/** Each saved state of a script. */
export const revisions = sqliteTable(
  "revisions",
  {
    id: integer("id").primaryKey({ autoIncrement: true }),
    scriptId: integer("script_id")
      .notNull()
      .references(() => scripts.id, { onDelete: "cascade" }),
    number: integer("number").notNull(),
    text: text("text").notNull(),
    createdAt: integer("created_at").notNull(),
  },
  (t) => [uniqueIndex("revision_number").on(t.scriptId, t.number)],
);

export const jobs = sqliteTable(
  "jobs",
  {
    id: integer("id").primaryKey({ autoIncrement: true }),
    /** An id that is never used again, by which the job's folder is known. */
    uid: text("uid"),
    scriptId: integer("script_id")
      .notNull()
      .references(() => scripts.id, { onDelete: "cascade" }),
    revision: integer("revision").notNull(),
    mode: text("mode", { enum: ["run", "try"] }).notNull(),
    state: text("state", { enum: ["waiting", "running", "done", "stopped", "interrupted", "failed"] }).notNull(),
    exit: integer("exit"),
    request: text("request", { mode: "json" }).notNull(),
    summary: text("summary", { mode: "json" }),
    createdAt: integer("created_at").notNull(),
    startedAt: integer("started_at"),
    endedAt: integer("ended_at"),
  },
  // Asked for by script (its last job, its removal), and by what is under way.
  (t) => [index("job_script").on(t.scriptId, t.id), index("job_state").on(t.state)],
);

export const settings = sqliteTable("settings", {
  key: text("key").primaryKey(),
  value: text("value", { mode: "json" }),
});
