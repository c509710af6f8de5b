export type CheckRequest = {
  readonly files: Readonly<Record<string, string>>;
  readonly types: Readonly<Record<string, string>>;
} & (
  | { readonly kind: "check"; /** Warn of names that only some runs lack. */ readonly gaps: boolean }
  | { readonly kind: "complete" | "hover"; readonly file: string; readonly offset: number }
  /** Makes the modules ready without looking at their types. */
  | { readonly kind: "compile" }
);
