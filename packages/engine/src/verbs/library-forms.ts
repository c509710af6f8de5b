import { chartOptions } from "./charts/chart-arguments.js";
import { emitWords } from "./emit/index.js";
import { layerKinds } from "./charts/kinds/index.js";
import { agreementOperations, agreementParameters } from "./agreement/index.js";
import { fitKinds, fitOperations } from "./fit/index.js";
import { functionOperations } from "./functions/index.js";
import { lawOperations } from "./law/index.js";
import type { LibraryForms, ParameterForm } from "./parameters/form.js";
import type { Parameters } from "./parameters/parameter.js";
import { siteWords } from "./sites/index.js";
import { tableVerbs } from "./table/index.js";

const formsOf = (parameters: Parameters): ParameterForm[] =>
  Object.entries(parameters).map(([name, p]) => p.form(name));

let forms: string | undefined;

/** What the sandbox is told of verbs and sites, as JSON. */
export function libraryForms(): string {
  return (forms ??= JSON.stringify({
    tableVerbs: tableVerbs.map((v) => v.form),
    methods: {
      fit: fitOperations.flatMap((o) => o.forms),
      agreement: agreementOperations.flatMap((o) => o.forms),
      law: lawOperations.flatMap((o) => o.forms),
    },
    functions: functionOperations.flatMap((o) => o.forms),
    fits: fitKinds.map((k) => ({ name: `fit.${k.name}`, parameters: formsOf(k.parameters) })),
    against: { name: "against", parameters: formsOf(agreementParameters) },
    sites: siteWords.map((w) => ({
      name: `at.${w.name}`,
      parameters: formsOf(w.parameters),
    })),
    charts: layerKinds.map((k) => ({ name: k.name, amounts: k.amounts ?? [] })),
    outputs: emitWords.map(({ name, takes }) => ({ name, takes })),
    chartOptions: Object.keys(chartOptions.shape),
  } satisfies LibraryForms));
}
