import path from "node:path";
import { compilePattern, lineKinds, openFile, patternCounts, readLines, type LineOptions } from "@oxtrum/core/formats";
import { inside, LiveStudy, resolveFile, type LiveRunAnswer } from "@oxtrum/engine";
import { answerQuestions } from "../threads/answer.js";
import type { FollowingQuestion, LogPlace, LookAnswer, ReadAnswer } from "./questions.js";

/** Follows studies: looks at what changed, and reads what was appended. */
const followed = new Map<string, { readonly live: LiveStudy; lookedAt: number }>();
let opened = 0;

function open(q: FollowingQuestion & { kind: "open" }): void {
  const now = Date.now();
  const epoch = `${process.pid.toString(36)}${now.toString(36)}${(opened++).toString(36)}`;
  followed.set(q.name, {
    live: new LiveStudy(q.name, q.catalogue, q.scanned, now, epoch, followed.get(q.name)?.live),
    lookedAt: now,
  });
}

function look(name: string): LookAnswer {
  const f = followed.get(name);
  if (!f) return undefined;
  f.lookedAt = Date.now();
  return f.live.look(f.lookedAt);
}

function read(q: FollowingQuestion & { kind: "read" }): ReadAnswer {
  const f = followed.get(q.name);
  if (!f) return undefined;
  const at = Date.now();
  const runs: readonly LiveRunAnswer[] = f.live.read(q, q.have, at);
  return JSON.stringify({ at, lookedAt: f.lookedAt, runs });
}

function withLog<T>(place: LogPlace, use: (source: ReturnType<typeof openFile>) => T): T {
  const name = resolveFile(place.definition, place.file).paths[0]!;
  const full = inside(place.folder, path.posix.join(place.run.folder, name), place.definition.links);
  const source = openFile(full, name);
  try {
    return use(source);
  } finally {
    source.close();
  }
}

function match(q: FollowingQuestion & { kind: "log match" }): object {
  return withLog(q.place, (source) => {
    const table = readLines(source, q.patterns.map(compilePattern), q.options as LineOptions);
    return {
      rows: table.rows,
      columns: table.columns.map((c) => {
        const last = c.values[table.rows - 1]!;
        const unit = c.kind === "number" ? c.unit : null;
        return { name: c.name, unit, last: typeof last === "number" && !Number.isFinite(last) ? null : last };
      }),
      patterns: patternCounts(source, q.patterns),
      notes: (table.conditions ?? []).map((c) => c.text),
    };
  });
}

answerQuestions<FollowingQuestion>((q) => {
  switch (q.kind) {
    case "open":
      open(q);
      return undefined;
    case "close":
      followed.delete(q.name);
      return undefined;
    case "look":
      return look(q.name);
    case "read":
      return read(q);
    case "log lines":
      return withLog(q.place, (source) => {
        const { kinds, seen } = lineKinds(source);
        return { file: source.name, size: source.size, seen, kinds };
      });
    case "log match":
      return match(q);
  }
});
