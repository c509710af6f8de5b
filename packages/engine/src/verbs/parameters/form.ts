/** How a parameter's value goes from a script into the arguments of an operation. */
export type ParameterKind =
  /** As it is: names, words, numbers, lists of them. */
  | "plain"
  /** One or a list of them: always a list. */
  | "list"
  /** A quantity, its text, or a bare number. */
  | "amount"
  /** A list of amounts. */
  | "amounts"
  /** Amounts, and lists of them, by name. */
  | "amounts by name"
  /** Values of columns by name: words stay words, quantities become plain. */
  | "key"
  /** A formula of columns, or values of columns by name. */
  | "condition"
  /** Quantities by name for a formula; those that are not known yet become inputs. */
  | "constants"
  /** Columns, quantities or numbers by name; quantities that are not known yet become inputs. */
  | "law inputs"
  /** A quantity, its text or a bare number; one that is not known yet becomes an input. */
  | "given"
  /** A quantity or its text, always an input. */
  | "quantity"
  /** Another table: an input. */
  | "table"
  /** Further tables: inputs. */
  | "tables"
  /** A list of places, or a table beside the runs. */
  | "places"
  /** An amount, or `{ relative: … }`. */
  | "tolerance"
  /** Quantities by name; those that are not known yet become inputs. */
  | "quantities by name"
  /** The same, one of them as `[from, to]`. */
  | "stretch"
  /** Tables by name: inputs. */
  | "tables by name";

/** A parameter as the sandbox knows it. */
export interface ParameterForm {
  /** Its name among the arguments. */
  readonly name: string;
  /** Its name in a script, where it is an option. */
  readonly called: string;
  readonly kind: ParameterKind;
  readonly place: "position" | "option" | "rest";
  readonly fallback?: unknown;
  /** Text that may stand in the place of an amount. */
  readonly words?: readonly string[];
}

/** A call as the sandbox knows it. */
export interface CallForm {
  readonly name: string;
  readonly parameters: readonly ParameterForm[];
}

/** A verb as the sandbox knows it: enough to make its nodes. */
export interface VerbForm extends CallForm {
  readonly operation: string;
  readonly gives: "table" | "quantity";
  /** Verbs that give several quantities at once, by these names. */
  readonly parts?: readonly string[];
}

/** A method of a noun or a function of the library: an operation, with what the method fixes of its arguments. */
export interface MethodForm extends CallForm {
  readonly operation: string;
  readonly gives: "table" | "quantity";
  readonly fixed?: Readonly<Record<string, unknown>>;
  /** Several results of one call, by name, with what each fixes. */
  readonly parts?: Readonly<Record<string, Readonly<Record<string, unknown>>>>;
}

/** All that the sandbox is told. */
export interface LibraryForms {
  readonly tableVerbs: readonly VerbForm[];
  /** What can be asked of a fit, an agreement, a law. */
  readonly methods: Readonly<Record<"fit" | "agreement" | "law", readonly MethodForm[]>>;
  /** Functions that need no noun first. */
  readonly functions: readonly MethodForm[];
  /** Kinds of fits, and a comparison with a reference, with their options. */
  readonly fits: readonly CallForm[];
  readonly against: CallForm;
  readonly sites: readonly CallForm[];
  /** Kinds of charts, with those of their options that are amounts. */
  readonly charts: readonly { readonly name: string; readonly amounts: readonly string[] }[];
  /** Text of `emit`, with what they take. */
  readonly outputs: readonly { readonly name: string; readonly takes: string }[];
  /** Options of a whole chart, as against those of one of its layers. */
  readonly chartOptions: readonly string[];
}
