import fs from "node:fs";
import { fileURLToPath } from "node:url";
import { layerKinds } from "../verbs/charts/kinds/index.js";
import { declarationOf } from "../verbs/charts/layer-kind.js";
import { emitDeclaration } from "../verbs/emit/emit-word.js";
import { emitWords } from "../verbs/emit/index.js";
import { declarationsOf } from "../verbs/parameters/declaration.js";
import { returnsOf } from "../verbs/parameters/table-verb.js";
import { siteWords } from "../verbs/sites/index.js";
import { tableVerbs } from "../verbs/table/index.js";

/** The texts of a script: the main module and its siblings, by file name. */
export type ScriptFiles = Readonly<Record<string, string>>;

const libraryFile = fileURLToPath(new URL("../../library/oxtrum.d.ts", import.meta.url));

let declarations: string | undefined;

/**
 * The library's declarations, with the doc comments that hovers, completions and the Guide show: what is written in
 * `library`, and the verbs from their definitions.
 */
export const libraryDeclarations = (): string =>
  (declarations ??= [
    fs.readFileSync(libraryFile, "utf8"),
    declarationsOf(
      "Table<C = Columns>",
      tableVerbs.map((v) => [v.definition, returnsOf(v)]),
    ),
    `declare module "oxtrum" {\n  interface Charts {\n${layerKinds.map(declarationOf).join("")}  }\n}\n`,
    `declare module "oxtrum" {\n  interface Outputs {\n${emitWords.map(emitDeclaration).join("")}  }\n}\n`,
    declarationsOf(
      "Sites",
      siteWords.map((w) => [w, w.returns ?? "Site"]),
    ),
  ].join("\n"));
