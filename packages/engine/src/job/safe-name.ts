/** Names that the job's own files have. */
const own = new Set(["manifest", "where", "outputs", "index"]);

/** A file name made of an output's name: letters, digits, dots, dashes. @example safeName("hall: air / 2") // "hall-air-2" */
export function safeName(name: string): string {
  const base = name
    .normalize("NFC")
    .replace(/[^\p{L}\p{N}._-]+/gu, "-")
    .replace(/^[-.]+|[-.]+$/g, "");
  const safe = base === "" ? "output" : [...base].slice(0, 120).join("");
  return /^(?:con|prn|aux|nul|com\d|lpt\d)$/i.test(safe) || own.has(safe.toLowerCase()) ? `${safe}-output` : safe;
}
