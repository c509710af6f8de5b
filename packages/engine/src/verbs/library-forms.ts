import { chartOptions } from "./charts/chart-arguments.js";
import { emitWords } from "./emit/index.js";
import { layerKinds } from "./charts/kinds/index.js";
import type { LibraryForms } from "./parameters/form.js";
import { siteWords } from "./sites/index.js";
import { tableVerbs } from "./table/index.js";

let forms: string | undefined;

/** What the sandbox is told of verbs and sites, as JSON. */
export function libraryForms(): string {
  return (forms ??= JSON.stringify({
    tableVerbs: tableVerbs.map((v) => v.form),
    sites: siteWords.map((w) => ({
      name: `at.${w.name}`,
      parameters: Object.entries(w.parameters).map(([name, p]) => p.form(name)),
    })),
    charts: layerKinds.map((k) => ({ name: k.name, amounts: k.amounts ?? [] })),
    outputs: emitWords.map(({ name, takes }) => ({ name, takes })),
    chartOptions: Object.keys(chartOptions.shape),
  } satisfies LibraryForms));
}
