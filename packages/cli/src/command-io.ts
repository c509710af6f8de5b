/** What a command is given of its surroundings: where its lines go, and when it is to stop. */
export interface CommandIo {
  /** A line of what was asked for. */
  readonly print: (line: string) => void;
  /** A line beside it: progress, complaints. */
  readonly complain: (line: string) => void;
  /** Where progress is drawn: a bar on a terminal, plain lines elsewhere. */
  readonly progress: { readonly isTTY?: boolean | undefined; write(text: string): unknown };
  readonly env: Readonly<Record<string, string | undefined>>;
  readonly signal: AbortSignal;
  /** Tells the exit code; 0 when nobody does. */
  readonly exit: (code: number) => void;
}
