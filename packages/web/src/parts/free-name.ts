/** A free name for a script that is written from wanted words. */
export function freeName(wanted: string, taken: readonly string[]): string {
  const stem = wanted.replace(/[^\p{L}\p{N}_-]+/gu, "-").replace(/^-+|-+$/g, "") || "script";
  let name = `${stem}.ts`;
  for (let k = 2; taken.includes(name); k++) name = `${stem}-${k}.ts`;
  return name;
}
