import type * as s from "@oxtrum/contract";
import { ALL, type Tags } from "./base";

/** What a message of the live stream makes old. */
export function tagsOf(m: s.LiveMessage): Tags {
  // What was missed is not known: everything that is shown is asked for again.
  if ("resync" in m) return ALL;
  if ("state" in m) return ["Jobs"];
  if (!("change" in m)) return [];
  const { resource, id } = m.change;
  if (resource === "study") return ["Studies", "Previews", { type: "Study", id }];
  if (resource === "script") return ["Scripts", { type: "Script", id }];
  if (resource === "job") return ["Jobs", { type: "Job", id: Number(id) }];
  return ["Settings"];
}
