import { z } from "zod";
import { settingsSchema, type ServerSettings } from "@oxtrum/contract";

/** A setting as it is typed. */
export interface Field {
  readonly name: keyof SettingsForm;
  readonly label: string;
  readonly unit: string;
  readonly hint: string;
  readonly rule: RegExp;
  /** What it can be, where that is a few words; the first one is the default. */
  readonly options: readonly string[] | undefined;
}
type Row = readonly [label: string, unit: string, hint: string, rule: RegExp, options?: readonly string[]];

const NUMBER = /^\d*(?:\.\d+)?$/;
const WHOLE = /^\d+$/;
const server = {
  workers: ["Worker threads", "", "Default: one per core, at most 8. Results do not depend on it.", /^\d*$/],
  memory: ["Array memory limit", "MB", "Per job. A run that needs more is excluded, with this reason.", WHOLE],
  scriptSeconds: [
    "Script time limit",
    "s",
    "Processor time, without waiting for results. An endless loop is stopped after it.",
    WHOLE,
  ],
  cache: ["Cache size", "MB", "Results kept between jobs. The oldest are removed first, when no job runs.", WHOLE],
} satisfies Record<string, Row>;
const charts = {
  textSize: ["Text", "px", "Axis titles and legend; other text scales with it. Default: 12.", NUMBER],
  lineWidth: ["Lines", "px", "Default: 1.6.", NUMBER],
  markerSize: ["Markers", "px", "Radius. Default: 3.5.", NUMBER],
  colors: [
    "Series colours",
    "",
    "As #RRGGBB, in order, with commas between. Default: colour-blind safe.",
    /^(?:\s*#[0-9A-Fa-f]{6}\s*(?:,|$))*\s*$/,
  ],
  theme: ["Theme", "", "A script can choose its own.", /^(?:screen|print)?$/, ["screen", "print"]],
  grid: ["Grid", "", "Lines behind the curves.", /^(?:lines|none)?$/, ["lines", "none"]],
  digits: [
    "Digits by unit",
    "",
    "Significant digits of the numbers at axes, as degC 3, kW 4.",
    /^(?:\s*\S+\s+\d{1,2}\s*(?:,|$))*\s*$/,
  ],
} satisfies Record<string, Row>;

export type SettingsForm = Record<keyof typeof server | keyof typeof charts, string>;

const fieldsOf = (rows: Partial<Record<keyof SettingsForm, Row>>): Field[] =>
  Object.entries(rows).map(([name, [label, unit, hint, rule, options]]) => ({
    name: name as keyof SettingsForm,
    label,
    unit,
    hint,
    rule,
    options,
  }));
export const serverFields = fieldsOf(server);
export const chartFields = fieldsOf(charts);

/** A text that has the form of its field, within the limits that the server has for it. */
function typed({ name, hint, rule }: Field): z.ZodType<string, string> {
  const limits = name in server ? settingsSchema.shape[name as keyof typeof server] : undefined;
  return z.string().superRefine((text, context) => {
    const say = (message: string): void => context.addIssue({ code: "custom", message });
    if (!rule.test(text)) return say(limits ? "a whole number" : hint);
    if (!limits || text === "") return;
    const { error } = limits.safeParse(Number(text));
    if (error) say(error.issues[0]!.message);
  });
}

const number = (text: string): number | undefined => (text === "" ? undefined : Number(text));
const listed = (text: string): string[] =>
  text
    .split(",")
    .map((t) => t.trim())
    .filter((t) => t !== "");

/** A style from the form's words: what is empty is left as it is. */
function styleOf(f: SettingsForm): ServerSettings["style"] {
  const colors = listed(f.colors);
  const digits = listed(f.digits).map((t) => t.split(/\s+/));
  const style = {
    textSize: number(f.textSize),
    lineWidth: number(f.lineWidth),
    markerSize: number(f.markerSize),
    colors: colors.length > 0 ? colors : undefined,
    theme: f.theme === "" ? undefined : f.theme,
    grid: f.grid === "" ? undefined : f.grid,
    digits: digits.length > 0 ? Object.fromEntries(digits.map(([u, d]) => [u!, Number(d)])) : undefined,
  };
  return Object.fromEntries(Object.entries(style).filter(([, v]) => v !== undefined));
}

const shape = Object.fromEntries([...serverFields, ...chartFields].map((f) => [f.name, typed(f)]));

/** What is typed on the page, as the settings that it means. */
export const settingsFormSchema = z
  .object(shape as Record<keyof SettingsForm, z.ZodType<string, string>>)
  .transform((f): ServerSettings => ({
    workers: f.workers === "" ? null : Number(f.workers),
    memory: Number(f.memory),
    scriptSeconds: Number(f.scriptSeconds),
    cache: Number(f.cache),
    style: styleOf(f),
  }));

/** Settings as they are typed. */
export const formOf = ({ workers, memory, scriptSeconds, cache, style }: ServerSettings): SettingsForm => ({
  workers: workers === null ? "" : String(workers),
  memory: String(memory),
  scriptSeconds: String(scriptSeconds),
  cache: String(cache),
  textSize: String(style.textSize ?? ""),
  lineWidth: String(style.lineWidth ?? ""),
  markerSize: String(style.markerSize ?? ""),
  colors: style.colors?.join(", ") ?? "",
  theme: style.theme ?? "",
  grid: style.grid ?? "",
  digits: Object.entries(style.digits ?? {})
    .map(([u, d]) => `${u} ${d}`)
    .join(", "),
});
