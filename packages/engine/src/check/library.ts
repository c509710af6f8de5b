import fs from "node:fs";
import { fileURLToPath } from "node:url";

/** The texts of a script: the main module and its siblings, by file name. */
export type ScriptFiles = Readonly<Record<string, string>>;

const libraryFile = fileURLToPath(new URL("../../library/oxtrum.d.ts", import.meta.url));

/** The library's declarations, with the doc comments that hovers, completions and the Guide show. */
export const libraryDeclarations = (): string => fs.readFileSync(libraryFile, "utf8");
