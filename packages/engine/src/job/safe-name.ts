/** A file name made of an output's name: letters, digits, dots, dashes. */
export function safeName(name: string): string {
  const base = name
    .normalize("NFC")
    .replace(/[^\p{L}\p{N}._-]+/gu, "-")
    .replace(/^[-.]+|[-.]+$/g, "");
  const safe = base === "" ? "output" : base.slice(0, 120);
  return /^(?:con|prn|aux|nul|com\d|lpt\d)$/i.test(safe) ||
    safe.toLowerCase() === "manifest" ||
    safe.toLowerCase() === "where"
    ? `${safe}-output`
    : safe;
}
