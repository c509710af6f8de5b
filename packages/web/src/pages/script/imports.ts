/** Adds names to a script's import from the library. */
export function withImports(script: string, needed: readonly string[]): string {
  const found = /import\s*\{([^}]*)\}\s*from\s*["']oxtrum["']/.exec(script);
  if (!found) return `import { ${needed.join(", ")} } from "oxtrum";\n${script}`;
  const have = found[1]!
    .split(",")
    .map((n) => n.trim())
    .filter((n) => n !== "");
  const missing = needed.filter((n) => !have.includes(n));
  if (missing.length === 0) return script;
  return script.replace(found[0], `import { ${[...have, ...missing].join(", ")} } from "oxtrum"`);
}
