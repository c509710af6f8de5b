import type { Live, Output } from "./schemas";

interface JobEvent {
  type: string;
  [key: string]: unknown;
}

/** Takes an event of a running job in, as the server does with the same event. */
export function applyEvent(live: Live, e: JobEvent): void {
  live.seq++;
  if (e.type === "stage") live.stage = e["stage"] as string;
  else if (e.type === "diagnostics") live.diagnostics.push(...(e["diagnostics"] as Live["diagnostics"]));
  else if (e.type === "grid") {
    live.runs = e["runs"] as Live["runs"];
    live.sets = e["sets"] as Live["sets"];
    live.lines = e["lines"] as Live["lines"];
  } else if (e.type === "cells") {
    const row = (live.cells[`${e["study"] as string}/${e["run"] as string}`] ??= {});
    for (const { line, ...cell } of e["cells"] as (Live["cells"][string][string] & { line: number })[])
      row[line] = cell;
  } else if (e.type === "output") live.outputs.push(e["output"] as Output);
  else if (e.type === "message") live.messages.push(e as unknown as Live["messages"][number]);
  else if (e.type === "asked") {
    live.asked = e["asked"] as Live["asked"];
    live.complete = e["complete"] as boolean;
  } else if (e.type === "done") {
    live.stage = "done";
    live.summary = e["summary"] as Live["summary"];
    live.left = live.summary?.left ?? [];
  }
}
