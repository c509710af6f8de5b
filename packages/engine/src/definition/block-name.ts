/** A patch or block by its alias, if it has one: for its whole name, or for the last part of a name within blocks. */
export function blockName(name: string, aliases: Readonly<Record<string, readonly string[]>>): string {
  const own = name.split("/").pop()!;
  return Object.keys(aliases).find((k) => aliases[k]!.includes(name) || aliases[k]!.includes(own)) ?? name;
}
