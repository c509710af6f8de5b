import { useEffect, type ReactElement } from "react";
import { useForm } from "react-hook-form";
import { errorText, useSaveSettingsMutation, useSettingsQuery } from "../api/api";
import { settingsSchema, type ServerSettings } from "@oxtrum/contract";
import { Loading, Trouble } from "../frame/Empty";
import { setTheme, useAppDispatch, useAppSelector } from "../store";

interface Form {
  readonly workers: string;
  readonly memory: string;
  readonly scriptSeconds: string;
  readonly cache: string;
  readonly textSize: string;
  readonly lineWidth: string;
  readonly markerSize: string;
  readonly colors: string;
  readonly theme: string;
  readonly grid: string;
  readonly digits: string;
}

const fields: readonly { name: keyof Form; label: string; unit: string; hint: string; rule: RegExp }[] = [
  {
    name: "workers",
    label: "Worker threads",
    unit: "",
    hint: "Default: one per core, at most 8. Results do not depend on it.",
    rule: /^\d*$/,
  },
  {
    name: "memory",
    label: "Array memory limit",
    unit: "MB",
    hint: "Per job. A run that needs more is excluded, with this reason.",
    rule: /^\d+$/,
  },
  {
    name: "scriptSeconds",
    label: "Script time limit",
    unit: "s",
    hint: "Processor time, without waiting for results. An endless loop is stopped after it.",
    rule: /^\d+$/,
  },
  {
    name: "cache",
    label: "Cache size",
    unit: "MB",
    hint: "Results kept between jobs. The oldest are removed first, when no job runs.",
    rule: /^\d+$/,
  },
];

const NUMBER = /^\d*(?:\.\d+)?$/;
const charts: typeof fields = [
  {
    name: "textSize",
    label: "Text",
    unit: "px",
    hint: "Axis titles and legend; other text scales with it. Default: 12.",
    rule: NUMBER,
  },
  { name: "lineWidth", label: "Lines", unit: "px", hint: "Default: 1.6.", rule: NUMBER },
  { name: "markerSize", label: "Markers", unit: "px", hint: "Radius. Default: 3.5.", rule: NUMBER },
  {
    name: "colors",
    label: "Series colours",
    unit: "",
    hint: "As #RRGGBB, in order, with commas between. Default: colour-blind safe.",
    rule: /^(?:\s*#[0-9A-Fa-f]{6}\s*(?:,|$))*$/,
  },
  {
    name: "theme",
    label: "Theme",
    unit: "",
    hint: "screen or print. Default: screen. A script can choose its own.",
    rule: /^(?:screen|print)?$/,
  },
  { name: "grid", label: "Grid", unit: "", hint: "lines or none. Default: lines.", rule: /^(?:lines|none)?$/ },
  {
    name: "digits",
    label: "Digits by unit",
    unit: "",
    hint: "Significant digits of the numbers at axes, as degC 3, kW 4.",
    rule: /^(?:\s*\S+\s+\d{1,2}\s*(?:,|$))*$/,
  },
];

/** What is wrong with a number, by the server's own limits; true where nothing is. */
function outsideOf(name: keyof Form, text: string): string | true {
  const schema = name in settingsSchema.shape ? settingsSchema.shape[name as "memory"] : undefined;
  if (!schema || !/^\d+$/.test(text)) return true;
  const parsed = schema.safeParse(Number(text));
  return parsed.success || parsed.error.issues[0]!.message;
}

/** A style from the form's words: what is empty is left as it is. */
function styleOf(f: Form): ServerSettings["style"] {
  const size = (v: string): number | undefined => (v === "" ? undefined : Number(v));
  const style = {
    textSize: size(f.textSize),
    lineWidth: size(f.lineWidth),
    markerSize: size(f.markerSize),
    colors:
      f.colors.trim() === ""
        ? undefined
        : f.colors
            .split(",")
            .map((c) => c.trim())
            .filter((c) => c !== ""),
    theme: f.theme === "" ? undefined : (f.theme as "screen" | "print"),
    grid: f.grid === "" ? undefined : (f.grid as "lines" | "none"),
    digits:
      f.digits.trim() === ""
        ? undefined
        : Object.fromEntries(
            f.digits
              .split(",")
              .map((t) => t.trim().split(/\s+/))
              .filter((t) => t.length === 2)
              .map(([u, d]) => [u!, Number(d)]),
          ),
  };
  return Object.fromEntries(Object.entries(style).filter(([, v]) => v !== undefined));
}

/** What can be set for the server, and how the page previews. */
export function SettingsPage(): ReactElement {
  const { data, error } = useSettingsQuery(undefined);
  const [save, saving] = useSaveSettingsMutation();
  const theme = useAppSelector((s) => s.view.theme);
  const dispatch = useAppDispatch();
  const { register, handleSubmit, reset, formState } = useForm<Form>();
  useEffect(() => {
    if (data)
      reset(
        {
          workers: data.workers === null ? "" : String(data.workers),
          memory: String(data.memory),
          scriptSeconds: String(data.scriptSeconds),
          cache: String(data.cache),
          textSize: String(data.style.textSize ?? ""),
          lineWidth: String(data.style.lineWidth ?? ""),
          markerSize: String(data.style.markerSize ?? ""),
          colors: data.style.colors?.join(", ") ?? "",
          theme: data.style.theme ?? "",
          grid: data.style.grid ?? "",
          digits: Object.entries(data.style.digits ?? {})
            .map(([u, d]) => `${u} ${d}`)
            .join(", "),
          // What is typed and not saved stays, whoever saves other settings meanwhile.
        },
        { keepDirtyValues: true },
      );
  }, [data, reset]);
  if (error && !data) return <Trouble text={errorText(error)} />;
  if (!data) return <Loading what="Reading the settings" />;
  const send = handleSubmit((f) =>
    save({
      workers: f.workers === "" ? null : Number(f.workers),
      memory: Number(f.memory),
      scriptSeconds: Number(f.scriptSeconds),
      cache: Number(f.cache),
      style: styleOf(f),
    }),
  );
  const row = (
    { name, label, unit, hint, rule }: (typeof fields)[number],
    width = "w-24 text-right",
    wrong?: string,
  ): ReactElement => (
    <label key={name} className="grid grid-cols-[190px_150px_1fr] items-baseline gap-x-4 border-b border-soft py-2">
      <span>{label}</span>
      <span className="flex items-baseline gap-2">
        <input
          className={`field num ${width}`}
          {...register(name, {
            pattern: { value: rule, message: wrong ?? hint },
            validate: (v) => outsideOf(name, v),
          })}
          aria-invalid={formState.errors[name] !== undefined}
        />
        <span className="dim text-xs">{unit}</span>
      </span>
      <span className={formState.errors[name] ? "text-oxide" : "dim"}>{formState.errors[name]?.message ?? hint}</span>
    </label>
  );
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 py-5">
      <h1 className="mb-4 text-lg font-semibold">Settings</h1>
      <form className="max-w-170" onSubmit={(e) => void send(e)}>
        {fields.map((f) => row(f, undefined, "a whole number"))}
        <h2 className="mt-6 mb-1 border-b border-ink pb-1 text-md font-semibold">House style of charts</h2>
        <p className="dim py-1">
          How all charts of new jobs look, on the screen and in files. A job's manifest says which style it had.
        </p>
        {charts.map((f) => row(f, "w-full text-left"))}
        <div className="flex items-center gap-3 py-4">
          <button className="btn go" disabled={!formState.isDirty || saving.isLoading}>
            Save
          </button>
          {saving.error && (
            <span role="alert" className="text-oxide">
              {errorText(saving.error)}
            </span>
          )}
          {!saving.error && saving.isSuccess && !formState.isDirty && (
            <span className="dim" role="status">
              Saved. Jobs take it from their start.
            </span>
          )}
        </div>
      </form>
      <h2 className="mb-2 border-b border-ink pb-1 text-md font-semibold max-w-170">This page</h2>
      <div className="flex gap-2" role="radiogroup" aria-label="Light or dark">
        {(["light", "dark", "system"] as const).map((t) => (
          <button
            key={t}
            role="radio"
            aria-checked={theme === t}
            className={`btn ${theme === t ? "" : "quiet"}`}
            onClick={() => dispatch(setTheme(t))}
          >
            {t === "light" ? "Light" : t === "dark" ? "Dark" : "System"}
          </button>
        ))}
      </div>
    </div>
  );
}
