export type CheckRequest = {
  readonly id: number;
  readonly files: Readonly<Record<string, string>>;
  readonly types: Readonly<Record<string, string>>;
} & (
  | { readonly kind: "check"; /** Warn of names that only some runs lack. */ readonly gaps: boolean }
  | { readonly kind: "complete" | "hover"; readonly file: string; readonly offset: number }
);

export interface CheckAnswer {
  readonly id: number;
  readonly value?: unknown;
  readonly error?: string;
}
