import type { TableVerb } from "./table-verb.js";
import type { Parameter, Parameters } from "./parameter.js";

type Named = readonly [name: string, p: Parameter<unknown>];

function typeOf(p: Parameter<unknown>): string {
  const one = p.setting.generic ?? p.definition.type;
  return p.definition.kind === "list" ? `${one} | ${one}[]` : one;
}

function optionsType(options: readonly Named[], only?: readonly string[]): string {
  const shown = only ? options.filter(([name]) => only.includes(name)) : options;
  const fields = shown.map(
    ([name, p]) =>
      `${p.setting.called ?? name}${p.setting.isOptional && !isNeeded(name, only) ? "?" : ""}: ${typeOf(p)}`,
  );
  return `{ ${fields.join("; ")} }`;
}

/** The first of options that go together is the one that says which of the alternatives it is. */
const isNeeded = (name: string, only: readonly string[] | undefined): boolean => only?.[0] === name;

/** A table with more columns: their names are worked out of the names that are given. */
function withAdded(adds: readonly string[], parameters: Parameters): string {
  const names = adds.map((a) => {
    const whole = /^\{(\w+)\}$/.exec(a);
    if (whole) return parameters[whole[1]!]!.setting.generic!;
    return `\`${a.replace(/\{(\w+)\}/g, (_, name: string) => `\${${parameters[name]!.setting.generic!}}`)}\``;
  });
  return `Table<C & { [K in ${names.join(" | ")}]: Numbers }>`;
}

function signatureOf({ definition: d }: TableVerb): string {
  const all = Object.entries(d.parameters);
  const generics = [
    ...new Set(
      all.flatMap(([, p]) => {
        const { generic, genericDefault } = p.setting;
        return generic === undefined
          ? []
          : [`${generic} extends ${p.definition.type}${genericDefault === undefined ? "" : ` = ${genericDefault}`}`];
      }),
    ),
    ...(all.some(([, p]) => p.definition.kind === "table") ? ["D"] : []),
  ];
  const given = all.flatMap(([name, p]): string[] => {
    const { place, called = name, isOptional } = p.setting;
    if (place === "option") return [];
    if (place === "rest")
      return [
        `...${called}: ${p.definition.kind === "tables" ? p.definition.type : `(${typeOf(p)} | ${typeOf(p)}[])[]`}`,
      ];
    return [`${called}${isOptional ? "?" : ""}: ${typeOf(p)}`];
  });
  const options = all.filter(([, p]) => p.setting.place === "option");
  if (options.length > 0) {
    const type = d.alternatives ? d.alternatives.map((a) => optionsType(options, a)).join(" | ") : optionsType(options);
    const free = !d.alternatives && options.every(([, p]) => p.setting.isOptional);
    given.push(`options${free ? "?" : ""}: ${type}`);
  }
  const returns =
    d.returns ?? (d.gives === "quantity" ? "Quantity" : d.adds ? withAdded(d.adds, d.parameters) : "Table<C>");
  return `${d.name}${generics.length > 0 ? `<${generics.join(", ")}>` : ""}(${given.join(", ")}): ${returns};`;
}

/** A verb as it stands in the library's declarations, with its doc comment. */
export function declarationOf(verb: TableVerb): string {
  const { doc, examples } = verb.definition;
  return `    /** ${[doc, ...examples.map((e) => `@example ${e}`)].join(" ")} */\n    ${signatureOf(verb)}`;
}

/** The part of the library's declarations that comes from verbs of tables. */
export function declarationsOf(verbs: readonly TableVerb[]): string {
  return `declare module "oxtrum" {\n  interface Table<C = Columns> {\n${verbs.map(declarationOf).join("\n")}\n  }\n}\n`;
}
