/** A name for this tab: what it starts replaces what it started before, and nothing of other tabs. */
export const tab: string = crypto.getRandomValues(new Uint32Array(2)).join("-");
