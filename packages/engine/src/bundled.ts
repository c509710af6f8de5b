import fs from "node:fs";

/**
 * A program in few files, if what is bundled is what was compiled last; undefined where it is not, or there is none.
 *
 * @param name of the file: `process.cjs`, `job.cjs`, `typescript.code`
 */
export function bundled(name: string): URL | undefined {
  const home = new URL("../bundle/", import.meta.url);
  try {
    const built = JSON.parse(fs.readFileSync(new URL("built.json", home), "utf8")) as {
      readonly folder: string;
      readonly of: Readonly<Record<string, number>>;
    };
    const isSame = Object.entries(built.of).every(
      ([from, time]) => fs.statSync(new URL(`../../${from}`, import.meta.url)).mtimeMs === time,
    );
    const file = new URL(`${built.folder}/${name}`, home);
    return isSame && fs.existsSync(file) ? file : undefined;
  } catch {
    return undefined;
  }
}
