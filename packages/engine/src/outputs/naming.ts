import { formatNumber } from "@oxtrum/core/tables";
import { namingSchema, type Naming } from "../sandbox/naming-schema.js";
import { safeName } from "./safe-name.js";

type Params = Readonly<Record<string, number | string>>;

/** What a file is of, where that is not the whole output. */
export interface FilePart {
  readonly run?: string | undefined;
  /** A picture of a sequence, from 1. */
  readonly frame?: number | undefined;
  /** What stands over it, as the time. */
  readonly title?: string | undefined;
}

/** Names files by rule: characters made safe, none outside of the outputs' folder. */
export class FileNames {
  constructor(
    private readonly rule: Naming,
    private readonly studies: readonly string[],
    private readonly paramsOf: (run: string) => Params | undefined,
  ) {}

  /**
   * The path of a file without its ending, within the outputs' folder.
   *
   * @throws Error for a rule that names what this file does not have
   */
  path(output: string, part: FilePart = {}): string {
    const single = part.run !== undefined || part.frame !== undefined;
    const rule = single
      ? (this.rule.each ?? (part.run !== undefined ? "{output}-{run}" : "{output}-{frame}"))
      : (this.rule.file ?? "{output}");
    const params = part.run === undefined ? {} : (this.paramsOf(part.run) ?? {});
    const known: Record<string, string> = {
      study: this.studies.join("+"),
      output,
      ...(part.run !== undefined && { run: part.run }),
      ...(part.frame !== undefined && { frame: String(part.frame).padStart(4, "0") }),
      ...(part.title !== undefined && { time: part.title }),
    };
    for (const [k, v] of Object.entries(params))
      known[k] ??=
        typeof v === "number"
          ? formatNumber(v)
              .replace(/\u202f/g, "")
              .replace("−", "-")
          : v;
    const text = rule.replace(/\{([^{}]*)\}/g, (_, name: string) => {
      const value = Object.hasOwn(known, name) ? known[name] : undefined;
      if (value === undefined)
        throw new Error(
          `file name "${rule}": there is no {${name}} ${single ? "here" : "of a file that holds all runs"}; there is ${Object.keys(
            known,
          )
            .map((k) => `{${k}}`)
            .join(", ")}`,
        );
      return value;
    });
    const file = safeName(text);
    if (this.rule.folders === "output") return `${safeName(output)}/${file}`;
    if (this.rule.folders === "run" && part.run !== undefined) return `${safeName(part.run)}/${file}`;
    return file;
  }
}

/** Names as they are without a rule. */
export const plainNames = new FileNames(namingSchema.parse({}), [], () => undefined);
