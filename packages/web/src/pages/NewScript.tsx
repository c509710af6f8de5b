import { zodResolver } from "@hookform/resolvers/zod";
import type { ReactElement } from "react";
import { useForm } from "react-hook-form";
import { useNavigate } from "react-router";
import { z } from "zod";
import { scriptNameSchema } from "@oxtrum/contract";
import { errorText, useSaveScriptMutation } from "../api";

const START = (study: string): string => `// What do you want to know of these runs?
import { study, emit } from "oxtrum";

const runs = study(${JSON.stringify(study)}).runs;

const rows = runs.rows((run) => ({
  ...run.params,
}));
emit.table("runs", rows);
`;

const withEnding = (name: string): string => (name.endsWith(".ts") ? name : `${name}.ts`);
const schema = z.object({
  name: z.string().trim().min(1, "Enter a name.").transform(withEnding).pipe(scriptNameSchema),
});

/** Asks for the name of a new script, makes it and opens it; one that is there is opened. */
export function NewScript({
  there,
  study,
  onCancel,
}: {
  there: readonly string[];
  study: string;
  onCancel: () => void;
}): ReactElement {
  const [save, saving] = useSaveScriptMutation();
  const navigate = useNavigate();
  const form = useForm({ resolver: zodResolver(schema), defaultValues: { name: "" } });
  const wrong = form.formState.errors.name;
  const submit = form.handleSubmit(async ({ name }) => {
    const r = there.includes(name) ? undefined : await save({ name, text: START(study), base: 0 });
    if (!r || !("error" in r)) await navigate(`/scripts/${encodeURIComponent(name)}`);
  });
  return (
    <form
      className="mb-6 flex items-start gap-3 border border-rule bg-sheet p-4"
      aria-label="New script"
      onSubmit={(e) => void submit(e)}
    >
      <label className="flex flex-col gap-1">
        <span className="dim text-xs">Name</span>
        <input
          className="field num w-70"
          autoFocus
          placeholder="recovery.ts"
          aria-invalid={wrong !== undefined}
          {...form.register("name")}
        />
        {wrong && (
          <span role="alert" className="text-xs text-oxide">
            {wrong.message}
          </span>
        )}
      </label>
      <div className="flex items-center gap-3 pt-5.5">
        <button className="btn go" disabled={saving.isLoading}>
          Start
        </button>
        <button type="button" className="btn quiet" onClick={onCancel}>
          Cancel
        </button>
        {saving.error && (
          <span role="alert" className="text-oxide">
            {errorText(saving.error)}
          </span>
        )}
      </div>
    </form>
  );
}
