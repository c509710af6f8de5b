import { useState, type ReactElement } from "react";
import { displayUnit } from "@oxtrum/core/tables/units";
import type { LiveQuantity, StudySummary } from "@oxtrum/contract";
import { Choice } from "../compare/Choices";

/** Tables with numbers to follow. */
const tablesOf = (study: StudySummary): StudySummary["files"][number][] =>
  study.files.filter((f) => f.columns?.some((c) => c.kind === "number" && c.name !== f.axis));

/** Chooses a column of a table or a number of a field. */
export function AddQuantity({ study, onAdd }: { study: StudySummary; onAdd: (q: LiveQuantity) => void }): ReactElement {
  const tables = tablesOf(study);
  const series = study.fields.filter((f) => f.steps > 1);
  const [kind, setKind] = useState<"table" | "field">(tables.length > 0 ? "table" : "field");
  const [file, setFile] = useState(tables[0]?.file ?? "");
  const table = tables.find((t) => t.file === file) ?? tables[0];
  const columns = (table?.columns ?? []).filter((c) => c.kind === "number" && c.name !== table?.axis);
  const [column, setColumn] = useState("");
  const known = columns.some((c) => c.name === column) ? column : (columns[0]?.name ?? "");
  const [fieldFile, setFieldFile] = useState(series[0]?.file ?? "");
  const source = series.find((f) => f.file === fieldFile) ?? series[0];
  const scalars = (source?.fields ?? []).flatMap((f) =>
    f.components === 1 ? [f.name] : f.components === 3 ? [`${f.name}.mag`] : [],
  );
  const [field, setField] = useState("");
  const [statistic, setStatistic] = useState<"mean" | "min" | "max">("mean");
  const chosen = scalars.includes(field) ? field : (scalars[0] ?? "");
  return (
    <form
      className="flex w-80 flex-col gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (kind === "table" && table) onAdd({ kind: "table", file: table.file, column: known });
        if (kind === "field" && source) onAdd({ kind: "field", file: source.file, field: chosen, statistic });
      }}
    >
      {tables.length > 0 && series.length > 0 && (
        <Choice
          label="from"
          value={kind}
          options={[
            ["table", "a table"],
            ["field", "a field, over the whole domain"],
          ]}
          onChange={(v) => setKind(v as "table")}
        />
      )}
      {kind === "table" ? (
        <>
          <Choice label="table" value={table?.file ?? ""} options={tables.map((t) => t.file)} onChange={setFile} />
          <Choice
            label="quantity"
            value={known}
            options={columns.map((c) => [c.name, `${c.name}  ${displayUnit(c.unit)}`.trim()] as const)}
            onChange={setColumn}
          />
        </>
      ) : (
        <>
          <Choice
            label="files"
            value={source?.file ?? ""}
            options={series.map((f) => f.file)}
            onChange={setFieldFile}
          />
          <Choice label="field" value={chosen} options={scalars} onChange={setField} />
          <Choice
            label="statistic"
            value={statistic}
            options={["mean", "min", "max"]}
            onChange={(v) => setStatistic(v as "mean")}
          />
        </>
      )}
      <button className="btn self-start" disabled={kind === "table" ? known === "" : chosen === ""}>
        Add quantity
      </button>
    </form>
  );
}
