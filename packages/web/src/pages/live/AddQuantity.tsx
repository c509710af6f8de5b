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

type Tables = ReturnType<typeof tablesOf>;
type Series = ReturnType<typeof seriesOf>;
interface PartProps {
  readonly chosen: Chosen;
  readonly set: (name: keyof Chosen, value: string) => void;
}

function OfTable({ tables, chosen, set }: PartProps & { tables: Tables }): ReactElement {
  const columnsOf = (file: string): Tables[number]["columns"] => tables.find((t) => t.file === file)?.columns ?? [];
  return (
    <>
      <Choice
        label="table"
        value={chosen.table}
        options={tables.map((t) => t.file)}
        onChange={(v) => {
          set("table", v);
          const there = columnsOf(v);
          if (!there.some((c) => c.name === chosen.column)) set("column", there[0]!.name);
        }}
      />
      <Choice
        label="quantity"
        value={chosen.column}
        options={columnsOf(chosen.table).map((c) => [c.name, `${c.name}  ${displayUnit(c.unit)}`.trim()] as const)}
        onChange={(v) => set("column", v)}
      />
    </>
  );
}

function OfField({ series, chosen, set }: PartProps & { series: Series }): ReactElement {
  const scalarsOf = (file: string): string[] => series.find((f) => f.file === file)?.scalars ?? [];
  return (
    <>
      <Choice
        label="files"
        value={chosen.files}
        options={series.map((f) => f.file)}
        onChange={(v) => {
          set("files", v);
          const there = scalarsOf(v);
          if (!there.includes(chosen.field)) set("field", there[0] ?? "");
        }}
      />
      <Choice label="field" value={chosen.field} options={scalarsOf(chosen.files)} onChange={(v) => set("field", v)} />
      <Choice
        label="statistic"
        value={chosen.statistic}
        options={["mean", "min", "max"]}
        onChange={(v) => set("statistic", v)}
      />
    </>
  );
}

/** What is chosen before anybody chooses: the first column of the first table, the first number of the first field. */
const firstOf = (tables: Tables, series: Series): Chosen => ({
  kind: tables.length > 0 ? "table" : "field",
  table: tables[0]?.file ?? "",
  column: tables[0]?.columns[0]?.name ?? "",
  files: series[0]?.file ?? "",
  field: series[0]?.scalars[0] ?? "",
  statistic: "mean",
});

/** Chooses a column of a table or a number of a field. */
export function AddQuantity({ study, onAdd }: { study: StudySummary; onAdd: (q: LiveQuantity) => void }): ReactElement {
  const [tables, series] = [tablesOf(study), seriesOf(study)];
  const form = useForm<Chosen, unknown, LiveQuantity>({
    resolver: zodResolver(formSchema),
    defaultValues: firstOf(tables, series),
  });
  const chosen = useWatch({ control: form.control }) as Chosen;
  const set = (name: keyof Chosen, value: string): void => form.setValue(name, value as never);
  const submit = form.handleSubmit(onAdd);
  const isTable = chosen.kind === "table";
  return (
    <form className="flex w-80 flex-col gap-2" aria-label="Add quantity" onSubmit={(e) => void submit(e)}>
      {tables.length > 0 && series.length > 0 && (
        <Choice
          label="from"
          value={chosen.kind}
          options={[
            ["table", "a table"],
            ["field", "a field, over the whole domain"],
          ]}
          onChange={(v) => set("kind", v)}
        />
      )}
      {isTable ? (
        <OfTable tables={tables} chosen={chosen} set={set} />
      ) : (
        <OfField series={series} chosen={chosen} set={set} />
      )}
      <button className="btn self-start" disabled={(isTable ? chosen.column : chosen.field) === ""}>
        Add quantity
      </button>
    </form>
  );
}
