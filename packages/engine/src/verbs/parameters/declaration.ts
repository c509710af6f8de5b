import type { Parameter, Parameters } from "./parameter.js";

/** What completions and the Guide say of a name. */
export interface Documented {
  readonly name: string;
  readonly doc: string;
  /** Calls that the tests run. */
  readonly examples: readonly string[];
}

/** What the library's declarations say of a verb or a site. */
export interface Declared extends Documented {
  readonly parameters: Parameters;
  readonly returns?: string;
  /** Type variables besides those of parameters. */
  readonly generics?: readonly string[];
  /** Options that go together, where not all of them do; those with a `!` are needed. */
  readonly alternatives?: readonly (readonly string[])[];
  /** Options that have a type of their own in the declarations. */
  readonly shared?: { readonly type: string; readonly options: readonly string[] };
}

type Named = readonly [name: string, p: Parameter<unknown>];

function typeOf(p: Parameter<unknown>): string {
  const one = p.setting.generic ?? p.definition.type;
  return p.definition.kind === "list" ? `${one} | ${one}[]` : one;
}

function optionsType(options: readonly Named[], only?: readonly string[]): string {
  const needed = (name: string): boolean => only?.includes(`${name}!`) === true;
  const shown = only ? options.filter(([name]) => only.includes(name) || needed(name)) : options;
  const fields = shown.map(
    ([name, p]) => `${p.setting.called ?? name}${p.setting.isOptional && !needed(name) ? "?" : ""}: ${typeOf(p)}`,
  );
  return `{ ${fields.join("; ")} }`;
}

/** The parameter of a call's options, if it has any. */
function optionsOf(d: Declared): string[] {
  const all = Object.entries(d.parameters).filter(([, p]) => p.setting.place === "option");
  const own = all.filter(([name]) => !d.shared?.options.includes(name));
  if (all.length === 0) return [];
  const types = d.alternatives?.map((a) => optionsType(own, a)) ?? (own.length > 0 ? [optionsType(own)] : []);
  const joined = types.length > 1 && d.shared ? `(${types.join(" | ")})` : types.join(" | ");
  const type = [...(d.shared ? [d.shared.type] : []), ...(types.length > 0 ? [joined] : [])].join(" & ");
  const isFree = !d.alternatives && all.every(([, p]) => p.setting.isOptional);
  return [`options${isFree ? "?" : ""}: ${type}`];
}

function genericsOf(d: Declared): string {
  const own = Object.values(d.parameters).flatMap((p) => {
    const { generic, genericDefault } = p.setting;
    if (generic === undefined) return [];
    return [`${generic} extends ${p.definition.type}${genericDefault === undefined ? "" : ` = ${genericDefault}`}`];
  });
  const other = Object.values(d.parameters).some((p) => p.definition.kind === "table") ? ["D"] : [];
  const all = [...new Set([...own, ...other, ...(d.generics ?? [])])];
  return all.length > 0 ? `<${all.join(", ")}>` : "";
}

/** A call as it is declared: `name<N extends string>(name: N, options?: { unit?: string }): Table<C>` */
export function signatureOf(d: Declared, returns: string): string {
  const given = Object.entries(d.parameters).flatMap(([name, p]): string[] => {
    const { place, called = name, isOptional } = p.setting;
    if (place === "option") return [];
    const type = typeOf(p);
    if (place === "rest") return [`...${called}: ${p.definition.kind === "tables" ? type : `(${type} | ${type}[])[]`}`];
    return [`${called}${isOptional ? "?" : ""}: ${type}`];
  });
  return `${d.name}${genericsOf(d)}(${[...given, ...optionsOf(d)].join(", ")}): ${returns}`;
}

const docOf = (d: Documented): string => [d.doc, ...d.examples.map((e) => `@example ${e}`)].join(" ");

/** Functions of the library with their doc comments. */
export const functionsOf = (functions: readonly (Declared & { readonly returns: string })[]): string =>
  `declare module "oxtrum" {\n${functions
    .map((f) => `  /** ${docOf(f)} */\n  export function ${signatureOf(f, f.returns)};\n`)
    .join("")}}\n`;

/** An interface of the library, or more of one: members with their doc comments and their signatures. */
export function interfaceOf(
  name: string,
  members: readonly (readonly [Documented, ...signatures: readonly string[]])[],
): string {
  const written = members.map(([d, ...signatures]) => {
    return `    /** ${docOf(d)} */\n${signatures.map((s) => `    ${s};\n`).join("")}`;
  });
  return `declare module "oxtrum" {\n  interface ${name} {\n${written.join("")}  }\n}\n`;
}
