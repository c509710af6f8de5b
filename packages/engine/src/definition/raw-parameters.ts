/** A parameter of a study's runs. */
export interface Parameter {
  readonly name: string;
  readonly unit: string | null;
  readonly type: "number" | "text";
  readonly label?: string;
}

/** A parameter as it is written. */
export interface Raw {
  readonly value: number | string;
  readonly unit?: string;
}

export type RawParams = Record<string, Raw>;
