import fs from "node:fs";
import { fileURLToPath } from "node:url";
import { layerKinds } from "../verbs/charts/kinds/index.js";
import { layerSignatures } from "../verbs/charts/layer-kind.js";
import { emitWords } from "../verbs/emit/index.js";
import { agreementOperations } from "../verbs/agreement/index.js";
import { fitKinds, fitOperations } from "../verbs/fit/index.js";
import { functionOperations } from "../verbs/functions/index.js";
import { lawOperations } from "../verbs/law/index.js";
import { functionsOf, interfaceOf, signatureOf, type Documented } from "../verbs/parameters/declaration.js";
import type { AskedOperation } from "../verbs/parameters/method.js";
import { returnsOf } from "../verbs/parameters/table-verb.js";
import { siteWords } from "../verbs/sites/index.js";
import { tableVerbs } from "../verbs/table/index.js";

/** The texts of a script: the main module and its siblings, by file name. */
export type ScriptFiles = Readonly<Record<string, string>>;

const libraryFile = fileURLToPath(new URL("../../library/oxtrum.d.ts", import.meta.url));

/** Methods with their signatures. */
const methodsOf = (operations: readonly AskedOperation[]): (readonly [Documented, string])[] =>
  operations.flatMap((o) => o.methods.map((m) => [m, signatureOf(m, m.returns)] as const));
/** A signature that takes a table first. */
const ofTable = (signature: string): string => signature.replace("(", "(table: Table<C>, ");

let declarations: string | undefined;

/**
 * The library's declarations, with the doc comments that hovers, completions and the Guide show: what is written in
 * `library`, and the verbs from their definitions.
 */
export const libraryDeclarations = (): string =>
  (declarations ??= [
    fs.readFileSync(libraryFile, "utf8"),
    interfaceOf(
      "Table<out C = Columns>",
      tableVerbs.map((v) => [v.definition, signatureOf(v.definition, returnsOf(v))]),
    ),
    interfaceOf(
      "Sites",
      siteWords.map((w) => [w, signatureOf(w, w.returns ?? "Site")]),
    ),
    interfaceOf("Fit<T extends string = string>", methodsOf(fitOperations)),
    interfaceOf(
      "Fits",
      fitKinds.map((k) => [k, ofTable(signatureOf({ ...k, generics: ["C", ...(k.generics ?? [])] }, k.returns))]),
    ),
    interfaceOf("Agreement", methodsOf(agreementOperations)),
    interfaceOf("Law", methodsOf(lawOperations)),
    functionsOf(functionOperations.flatMap((o) => o.methods)),
    interfaceOf(
      "Charts",
      layerKinds.map((k) => [k, ...layerSignatures(k)]),
    ),
    interfaceOf(
      "Outputs",
      emitWords.map((w) => [w, w.name + w.signature]),
    ),
  ].join("\n"));
