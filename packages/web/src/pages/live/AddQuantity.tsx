import { zodResolver } from "@hookform/resolvers/zod";
import type { ReactElement } from "react";
import { useForm, useWatch } from "react-hook-form";
import { z } from "zod";
import { displayUnit } from "@oxtrum/core/tables/units";
import { liveQuantitySchema, type LiveQuantity, type StudySummary } from "@oxtrum/contract";
import { Choice } from "../compare/Choices";

/** What is chosen: of a table and of a field at the same time, so that going to and fro loses nothing. */
const formSchema = z
  .object({
    kind: z.enum(["table", "field"]),
    table: z.string(),
    column: z.string(),
    files: z.string(),
    field: z.string(),
    statistic: z.enum(["mean", "min", "max"]),
  })
  .transform(({ kind, table, column, files, field, statistic }): LiveQuantity =>
    kind === "table" ? { kind, file: table, column } : { kind, file: files, field, statistic },
  )
  .pipe(liveQuantitySchema);
type Chosen = z.input<typeof formSchema>;

/** Tables with numbers to follow, with their columns. */
const tablesOf = (study: StudySummary): { file: string; columns: { name: string; unit: string | null }[] }[] =>
  study.files.flatMap((f) => {
    const columns = (f.columns ?? []).flatMap((c) =>
      c.kind === "number" && c.name !== f.axis ? [{ name: c.name, unit: c.unit }] : [],
    );
    return columns.length > 0 ? [{ file: f.file, columns }] : [];
  });

/** Fields of several steps, with the numbers that each has at a point. */
const seriesOf = (study: StudySummary): { file: string; scalars: string[] }[] =>
  study.fields
    .filter((f) => f.steps > 1)
    .map((f) => ({
      file: f.file,
      scalars: f.fields.flatMap((x) => (x.components === 1 ? [x.name] : x.components === 3 ? [`${x.name}.mag`] : [])),
    }));

/** Chooses a column of a table or a number of a field. */
export function AddQuantity({ study, onAdd }: { study: StudySummary; onAdd: (q: LiveQuantity) => void }): ReactElement {
  const [tables, series] = [tablesOf(study), seriesOf(study)];
  const form = useForm<Chosen, unknown, LiveQuantity>({
    resolver: zodResolver(formSchema),
    defaultValues: {
      kind: tables.length > 0 ? "table" : "field",
      table: tables[0]?.file ?? "",
      column: tables[0]?.columns[0]?.name ?? "",
      files: series[0]?.file ?? "",
      field: series[0]?.scalars[0] ?? "",
      statistic: "mean",
    },
  });
  const { kind, table, column, files, field, statistic } = useWatch({ control: form.control }) as Chosen;
  const columns = tables.find((t) => t.file === table)?.columns ?? [];
  const scalars = series.find((f) => f.file === files)?.scalars ?? [];
  const submit = form.handleSubmit(onAdd);
  return (
    <form className="flex w-80 flex-col gap-2" aria-label="Add quantity" onSubmit={(e) => void submit(e)}>
      {tables.length > 0 && series.length > 0 && (
        <Choice
          label="from"
          value={kind}
          options={[
            ["table", "a table"],
            ["field", "a field, over the whole domain"],
          ]}
          onChange={(v) => form.setValue("kind", v as Chosen["kind"])}
        />
      )}
      {kind === "table" ? (
        <>
          <Choice
            label="table"
            value={table}
            options={tables.map((t) => t.file)}
            onChange={(v) => {
              form.setValue("table", v);
              const there = tables.find((t) => t.file === v)!.columns;
              if (!there.some((c) => c.name === column)) form.setValue("column", there[0]!.name);
            }}
          />
          <Choice
            label="quantity"
            value={column}
            options={columns.map((c) => [c.name, `${c.name}  ${displayUnit(c.unit)}`.trim()] as const)}
            onChange={(v) => form.setValue("column", v)}
          />
        </>
      ) : (
        <>
          <Choice
            label="files"
            value={files}
            options={series.map((f) => f.file)}
            onChange={(v) => {
              form.setValue("files", v);
              const there = series.find((f) => f.file === v)!.scalars;
              if (!there.includes(field)) form.setValue("field", there[0] ?? "");
            }}
          />
          <Choice label="field" value={field} options={scalars} onChange={(v) => form.setValue("field", v)} />
          <Choice
            label="statistic"
            value={statistic}
            options={["mean", "min", "max"]}
            onChange={(v) => form.setValue("statistic", v as Chosen["statistic"])}
          />
        </>
      )}
      <button className="btn self-start" disabled={kind === "table" ? column === "" : field === ""}>
        Add quantity
      </button>
    </form>
  );
}
