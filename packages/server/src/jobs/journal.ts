import fs from "node:fs";
import path from "node:path";
import { applyEvent, emptyLive, jobEventSchema, type JobEvent, type Live } from "@oxtrum/contract";
import { diskReason } from "@oxtrum/engine";

const fileOf = (folder: string): string => path.join(folder, "journal.jsonl");

/** Adds events to a job's journal. @returns why it could not be written, if so */
export function appendJournal(folder: string, events: readonly JobEvent[]): string | undefined {
  try {
    fs.mkdirSync(folder, { recursive: true });
    fs.appendFileSync(fileOf(folder), events.map((e) => JSON.stringify(e)).join("\n") + "\n");
    return undefined;
  } catch (e) {
    return diskReason(e);
  }
}

/** What a job has told, from its journal. */
export function readJournal(folder: string): Live {
  const live = emptyLive();
  let text: string;
  try {
    text = fs.readFileSync(fileOf(folder), "utf8");
  } catch {
    return live;
  }
  for (const line of text.split("\n")) {
    if (line === "") continue;
    try {
      applyEvent(live, jobEventSchema.parse(JSON.parse(line)));
    } catch {
      break; // A line cut by a crash, or of another version: what stands before it is true.
    }
  }
  // Squares that were under way when the process ended are not any more.
  for (const row of Object.values(live.cells))
    for (const [line, c] of Object.entries(row)) if (c.state === "running") delete row[Number(line)];
  return live;
}
