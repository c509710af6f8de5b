import { zodResolver } from "@hookform/resolvers/zod";
import { useEffect, type ReactElement } from "react";
import { useForm, type UseFormReturn } from "react-hook-form";
import type { ServerSettings } from "@oxtrum/contract";
import { errorText, useSaveSettingsMutation, useSettingsQuery } from "../../api";
import { Loading, Trouble } from "../../frame/Empty";
import { OneOf } from "../../parts/OneOf";
import { setTheme, useAppDispatch, useAppSelector } from "../../store";
import { chartFields, formOf, serverFields, settingsFormSchema, type Field, type SettingsForm } from "./settings-form";

type Form = UseFormReturn<SettingsForm, unknown, ServerSettings>;

/** One setting: its name, its text, and what it means or what is wrong with it. */
function Row({ field, form, wide }: { field: Field; form: Form; wide?: boolean }): ReactElement {
  const { name, label, unit, hint, options } = field;
  const wrong = form.formState.errors[name];
  return (
    <label className="grid grid-cols-[190px_150px_1fr] items-baseline gap-x-4 border-b border-soft py-2">
      <span>{label}</span>
      <span className="flex items-baseline gap-2">
        {options ? (
          <select className="field tight w-full" {...form.register(name)}>
            {options.map((o, k) => (
              <option key={o} value={k === 0 ? "" : o}>
                {k === 0 ? `${o} (default)` : o}
              </option>
            ))}
          </select>
        ) : (
          <input
            className={`field num ${wide ? "w-full text-left" : "w-24 text-right"}`}
            {...form.register(name)}
            aria-invalid={wrong !== undefined}
          />
        )}
        <span className="dim text-xs">{unit}</span>
      </span>
      <span className={wrong ? "text-oxide" : "dim"}>{wrong?.message ?? hint}</span>
    </label>
  );
}

/** What can be set for the server, and how the page previews. */
export function SettingsPage(): ReactElement {
  const { data, error } = useSettingsQuery(undefined);
  const theme = useAppSelector((s) => s.view.theme);
  const dispatch = useAppDispatch();
  if (error && !data) return <Trouble text={errorText(error)} />;
  if (!data) return <Loading what="Reading the settings" />;
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 py-5">
      <h1 className="mb-4 text-lg font-semibold">Settings</h1>
      <ServerForm data={data} />
      <h2 className="mb-2 max-w-170 border-b border-ink pb-1 text-md font-semibold">This page</h2>
      <OneOf
        label="Light or dark"
        value={theme}
        options={[
          ["light", "Light"],
          ["dark", "Dark"],
          ["system", "System"],
        ]}
        onChange={(t) => dispatch(setTheme(t))}
      />
    </div>
  );
}

function ServerForm({ data }: { data: ServerSettings }): ReactElement {
  const [save, saving] = useSaveSettingsMutation();
  const form: Form = useForm<SettingsForm, unknown, ServerSettings>({
    resolver: zodResolver(settingsFormSchema),
    defaultValues: formOf(data),
  });
  const { reset, formState } = form;
  // What is typed and not saved stays, whoever saves other settings meanwhile.
  useEffect(() => reset(formOf(data), { keepDirtyValues: true }), [data, reset]);
  const send = form.handleSubmit((settings) => save(settings));
  return (
    <form className="max-w-170" aria-label="Settings" onSubmit={(e) => void send(e)}>
      {serverFields.map((f) => (
        <Row key={f.name} field={f} form={form} />
      ))}
      <h2 className="mt-6 mb-1 border-b border-ink pb-1 text-md font-semibold">House style of charts</h2>
      <p className="dim py-1">
        How all charts of new jobs look, on the screen and in files. A job's manifest says which style it had.
      </p>
      {chartFields.map((f) => (
        <Row key={f.name} field={f} form={form} wide />
      ))}
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
  );
}
