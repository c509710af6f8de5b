import fs from "node:fs";

/**
 * A program in few files, if what is bundled is what was compiled last; undefined where it is not, or there is none.
 *
 * @param name of the program: `process`, `job`
 */
export function bundled(name: string): URL | undefined {
  const folder = new URL("../bundle/", import.meta.url);
  try {
    const built = JSON.parse(fs.readFileSync(new URL("built.json", folder), "utf8")) as Record<string, number>;
    const isSame = Object.entries(built).every(
      ([part, time]) => fs.statSync(new URL(`../../${part}/dist/.tsbuildinfo`, import.meta.url)).mtimeMs === time,
    );
    return isSame ? new URL(`${name}.js`, folder) : undefined;
  } catch {
    return undefined;
  }
}
