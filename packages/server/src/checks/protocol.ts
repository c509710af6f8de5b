interface Material {
  readonly files: Readonly<Record<string, string>>;
  readonly types: Readonly<Record<string, string>>;
}

/** What is asked of a script's texts and the studies' types. */
export type MaterialRequest = Material &
  (
    | { readonly kind: "check"; /** Warn of names that only some runs lack. */ readonly gaps: boolean }
    | { readonly kind: "complete" | "hover"; readonly file: string; readonly offset: number }
    /** Makes the modules ready without looking at their types. */
    | { readonly kind: "compile" }
  );

/** What is asked of a single text, whose types do not matter. */
export type TextRequest =
  | {
      readonly kind: "addition";
      readonly text: string;
      readonly lines: string;
      readonly given?: Readonly<Record<string, string>> | undefined;
    }
  | { readonly kind: "emitted"; readonly text: string; readonly output: string };

export type CheckRequest = MaterialRequest | TextRequest;
