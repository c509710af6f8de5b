import { zodResolver } from "@hookform/resolvers/zod";
import type { ReactElement } from "react";
import { useForm } from "react-hook-form";
import { Link, useNavigate, useSearchParams } from "react-router";
import { z } from "zod";
import type { studyListSchema } from "@oxtrum/contract";
import { errorText, useAddStudyMutation, useRemoveStudyMutation, useStudiesQuery } from "../api";
import { Empty, Loading, Trouble } from "../frame/Empty";
import { AskedTwice } from "../parts/AskedTwice";
import { Name } from "../parts/Name";

const schema = z.object({
  folder: z.string().min(1, "Say which folder holds the runs."),
  name: z.string().regex(/^[\p{L}\p{N}._-]{1,100}$/u, "Letters, digits, dots and dashes."),
});
type Form = z.infer<typeof schema>;
type ListedStudy = z.infer<typeof studyListSchema>[number];

function AddStudy({ onDone }: { onDone: () => void }): ReactElement {
  const [add, { error, isLoading }] = useAddStudyMutation();
  const navigate = useNavigate();
  const form = useForm<Form>({ resolver: zodResolver(schema), defaultValues: { folder: "", name: "" } });
  const { errors } = form.formState;
  const submit = form.handleSubmit(async (v) => {
    const r = await add(v);
    if (!("error" in r)) {
      onDone();
      await navigate(`/studies/${encodeURIComponent(v.name)}`);
    }
  });
  const suggest = (folder: string): void => {
    if (!form.formState.dirtyFields.name)
      form.setValue(
        "name",
        (
          folder
            .replace(/[/\\]+$/, "")
            .split(/[/\\]/)
            .pop() ?? ""
        ).replace(/[^\p{L}\p{N}._-]+/gu, "-"),
      );
  };
  return (
    <form onSubmit={(e) => void submit(e)} className="mb-6 border border-rule bg-sheet p-4" aria-label="Add study">
      <div className="grid grid-cols-[1fr_240px_auto] items-start gap-3">
        <label className="flex flex-col gap-1">
          <span className="dim text-xs">Folder on this machine, with the runs in it</span>
          <input
            className="field num"
            autoFocus
            placeholder="/data/results/my-study"
            {...form.register("folder", { onChange: (e: { target: { value: string } }) => suggest(e.target.value) })}
          />
          {errors.folder && <span className="text-xs text-oxide">{errors.folder.message}</span>}
        </label>
        <label className="flex flex-col gap-1">
          <span className="dim text-xs">Name in scripts</span>
          <input className="field num" {...form.register("name")} />
          {errors.name && <span className="text-xs text-oxide">{errors.name.message}</span>}
        </label>
        <div className="flex gap-2 pt-5.5">
          <button className="btn go" disabled={isLoading}>
            Add
          </button>
          <button type="button" className="btn quiet" onClick={onDone}>
            Cancel
          </button>
        </div>
      </div>
      {error && (
        <p role="alert" className="mt-2 text-oxide">
          {errorText(error)}
        </p>
      )}
    </form>
  );
}

function StudyTable({ studies }: { studies: readonly ListedStudy[] }): ReactElement {
  const [remove] = useRemoveStudyMutation();
  return (
    <table className="ruled">
      <thead>
        <tr>
          <th>study</th>
          <th>about</th>
          <th className="n">runs</th>
          <th>parameters</th>
          <th className="n">with problems</th>
          <th>folder</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {studies.map((s) => (
          <tr key={s.name}>
            <td>
              <Link className="num link font-medium" to={`/studies/${encodeURIComponent(s.name)}`}>
                {s.name}
              </Link>
            </td>
            <td className="dim">{s.error ? <span className="text-oxide">{s.error}</span> : s.title}</td>
            <td className="n">{s.runs}</td>
            <td>
              <span className="num">{s.parameters.join(" · ")}</span>
            </td>
            <td className="n">{s.problems > 0 ? <span className="text-oxide">{s.problems}</span> : "–"}</td>
            <td className="num dim">
              <Name text={s.folder} most={44} />
            </td>
            <td className="text-right">
              <AskedTwice
                act="Remove from list"
                question="Remove from the list? The files stay."
                yes="Remove"
                onYes={() => void remove(s.name)}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** All studies: folders of results that the server may read. */
export function StudiesPage(): ReactElement {
  const { data, error, isLoading } = useStudiesQuery(undefined);
  const [search, setSearch] = useSearchParams();
  const adding = search.has("add");
  const open = (): void => setSearch({ add: "" });
  const close = (): void => setSearch({});
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 py-5">
      <div className="mb-4 flex items-baseline gap-3">
        <h1 className="text-lg font-semibold">Studies</h1>
        <span className="dim">folders of results, with the runs in them</span>
        {!adding && (
          <button className="btn ml-auto" onClick={open}>
            Add study
          </button>
        )}
      </div>
      {adding && <AddStudy onDone={close} />}
      {isLoading && <Loading what="Reading the list" />}
      {error && <Trouble text={errorText(error)} />}
      {data?.length === 0 && !adding && (
        <Empty
          title="No studies yet"
          act={
            <button className="btn go" onClick={open}>
              Add study
            </button>
          }
        >
          A study is a folder with one folder for each run. Oxtrum finds the runs, their parameters and what is in their
          files.
        </Empty>
      )}
      {data && data.length > 0 && <StudyTable studies={data} />}
    </div>
  );
}
