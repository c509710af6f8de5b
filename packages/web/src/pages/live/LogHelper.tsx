import { useMemo, useState, type ReactElement } from "react";
import { patternFor, type NumberInLine } from "@oxtrum/core/tables/line-pattern";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import type { LiveQuantity, LogLines, StudySummary } from "@oxtrum/contract";
import { errorText, useLogLinesQuery, useLogMatchQuery } from "../../api/api";
import { count } from "../../parts/count";
import { useQuietText } from "../../parts/quiet-text";
import { Choice } from "../compare/Choices";

type Several = "" | "first" | "last" | "rows";
type Options = NonNullable<Extract<LiveQuantity, { kind: "lines" }>["options"]>;

/** A line whose numbers are chosen by a click and named. */
function Line({
  kind,
  chosen,
  onChosen,
}: {
  kind: LogLines["kinds"][number];
  chosen: readonly NumberInLine[];
  onChosen: (c: readonly NumberInLine[]) => void;
}): ReactElement {
  const parts: ReactElement[] = [];
  let at = 0;
  kind.numbers.forEach((n, k) => {
    const on = chosen.some((c) => c.start === n.start);
    parts.push(<span key={`t${k}`}>{kind.text.slice(at, n.start)}</span>);
    parts.push(
      <button
        key={`n${k}`}
        aria-pressed={on}
        className={`border px-0.5 ${on ? "border-oxide bg-oxide-wash text-oxide" : "border-rule hover:border-ink"}`}
        style={{ borderRadius: 2 }}
        onClick={() => onChosen(on ? chosen.filter((c) => c.start !== n.start) : [...chosen, n])}
      >
        {kind.text.slice(n.start, n.end)}
      </button>,
    );
    at = n.end;
  });
  parts.push(<span key="end">{kind.text.slice(at)}</span>);
  return (
    <p
      className="num overflow-x-auto border border-rule bg-sheet px-2 py-1.5 text-xs whitespace-pre"
      role="group"
      aria-label="Line"
    >
      {parts}
    </p>
  );
}

/** Names and units of the chosen numbers. */
function Fields({
  chosen,
  onChosen,
}: {
  chosen: readonly NumberInLine[];
  onChosen: (c: readonly NumberInLine[]) => void;
}): ReactElement {
  const set = (start: number, part: Partial<NumberInLine>): void =>
    onChosen(chosen.map((c) => (c.start === start ? { ...c, ...part } : c)));
  return (
    <div className="flex flex-wrap gap-2">
      {[...chosen]
        .sort((a, b) => a.start - b.start)
        .map((c, k) => (
          <label key={c.start} className="flex items-center gap-1 text-xs">
            <span className="dim">{k === 0 ? "x axis" : "value"}</span>
            <input
              className="field tight num w-24 text-xs"
              aria-label={`name of number ${k + 1}`}
              value={c.name}
              onChange={(e) => set(c.start, { name: e.target.value.replace(/[{}:]/g, "") })}
            />
            <input
              className="field tight num w-14 text-xs"
              aria-label={`unit of number ${k + 1}`}
              placeholder="unit"
              value={c.unit ?? ""}
              onChange={(e) => set(c.start, { unit: e.target.value.trim() === "" ? null : e.target.value.trim() })}
            />
          </label>
        ))}
    </div>
  );
}

/** What the patterns find in the run's log. */
function Matches({
  study,
  run,
  file,
  patterns,
  options,
}: {
  study: string;
  run: string;
  file: string;
  patterns: readonly string[];
  options: Options;
}): ReactElement {
  const late = useQuietText(JSON.stringify(patterns));
  const settled = useMemo(() => (JSON.parse(late) as string[]).filter((p) => p.includes("{")), [late]);
  const { currentData, error, isFetching } = useLogMatchQuery(
    { study, run, file, patterns: settled, options },
    { skip: settled.length === 0 },
  );
  if (settled.length === 0)
    return <p className="dim text-xs">Choose a kind of line, then click the numbers that you want.</p>;
  if (error && !isFetching)
    return (
      <p role="alert" className="warn text-xs">
        {errorText(error)}
      </p>
    );
  if (!currentData) return <span className="sweep h-1 w-16" role="progressbar" aria-label="Reading the log" />;
  return (
    <div className="flex flex-col gap-1 text-xs" aria-label="Found" role="status">
      <p>
        {count(currentData.rows, "row")};{" "}
        {currentData.patterns.map((p, k) => (
          <span key={k} className="num">
            {k > 0 && ", "}
            {settled.length > 1 ? `pattern ${k + 1}: ` : ""}
            {formatNumber(p.matches)} {p.matches === 1 ? "match" : "matches"}, {formatNumber(p.misses)}{" "}
            {p.misses === 1 ? "miss" : "misses"}
          </span>
        ))}
        . Last:{" "}
        <span className="num">
          {currentData.columns
            .map((c) =>
              `${c.name} ${typeof c.last === "number" ? formatNumber(c.last, 5) : (c.last ?? "–")} ${displayUnit(c.unit)}`.trim(),
            )
            .join(", ")}
        </span>
      </p>
      {currentData.patterns
        .flatMap((p) => p.missed)
        .slice(0, 3)
        .map((m) => (
          <p key={m.line} className="warn num truncate">
            line {m.line} begins like it but does not match: {m.text}
          </p>
        ))}
      {currentData.notes.map((n) => (
        <p key={n} className="warn">
          {n}
        </p>
      ))}
    </div>
  );
}

/** Finds values in a log: click the numbers of a line, name them, see what the pattern finds, follow them. */
export function LogHelper({
  study,
  run,
  onAdd,
  onClose,
}: {
  study: StudySummary;
  run: string;
  onAdd: (q: readonly LiveQuantity[]) => void;
  onClose: () => void;
}): ReactElement {
  const logs = useMemo(() => {
    const texts = study.files.filter((f) => f.columns === null && /\.(?:log|out|txt|lis|res)$/i.test(f.file));
    const rest = study.files.filter((f) => f.columns === null && !texts.includes(f));
    return [...texts, ...rest].map((f) => f.file);
  }, [study.files]);
  const [file, setFile] = useState(logs[0] ?? "");
  const lines = useLogLinesQuery({ study: study.name, run, file }, { skip: file === "" || run === "" });
  const [at, setAt] = useState<number | undefined>();
  const [chosen, setChosen] = useState<readonly NumberInLine[]>([]);
  const [before, setBefore] = useState<readonly string[]>([]);
  const [typed, setTyped] = useState<string | undefined>();
  const [several, setSeveral] = useState<Several>("");
  const [rising, setRising] = useState("");
  const kind = at === undefined ? undefined : lines.currentData?.kinds[at];
  const pattern = typed ?? (kind ? patternFor(kind.text, chosen) : "");
  const patterns = [...before, ...(pattern.includes("{") ? [pattern] : [])];
  const fields = patterns.flatMap((p) =>
    [...p.matchAll(/\{\s*([^:{}]+?)\s*(?::\s*([^{}]*))?\}/g)].map((m) => ({ name: m[1]!, text: m[2] === "text" })),
  );
  const numbers = fields.filter((f) => !f.text).map((f) => f.name);
  const counted = numbers.includes(rising) ? [rising] : [];
  const values = [...fields.slice(1).filter((f) => !f.text), ...counted.map((n) => ({ name: `${n}.increment` }))];
  const options: Options = {
    ...(several !== "" && { several }),
    ...(counted.length > 0 && { increments: counted }),
  };
  const pick = (k: number): void => {
    setAt(k);
    setChosen([]);
    setTyped(undefined);
  };
  return (
    <section className="flex min-h-0 flex-1 flex-col gap-2.5 overflow-auto px-5 py-3" aria-label="Values from a log">
      <div className="flex items-baseline gap-3">
        <h2 className="text-md font-semibold">Values from a log</h2>
        <span className="dim num truncate">{run}</span>
        <button className="link ml-auto" onClick={onClose}>
          Close
        </button>
      </div>
      {logs.length === 0 ? (
        <p className="dim">The runs of this study hold no text files but tables.</p>
      ) : (
        <>
          <div className="w-96">
            <Choice
              label="file"
              value={file}
              options={logs}
              onChange={(f) => (setFile(f), setAt(undefined), setChosen([]))}
            />
          </div>
          {lines.error && <p className="warn text-xs">{errorText(lines.error)}</p>}
          <div
            className="max-h-44 flex-none overflow-auto border border-rule"
            role="listbox"
            aria-label="Kinds of lines"
          >
            {(lines.currentData?.kinds ?? []).map((k, i) => (
              <button
                key={k.text}
                role="option"
                aria-selected={i === at}
                className={`num flex w-full gap-3 px-2 py-0.5 text-left text-xs ${i === at ? "bg-oxide-wash" : "hover:bg-sheet"}`}
                onClick={() => pick(i)}
              >
                <span className="dim w-12 flex-none text-right">{formatNumber(k.count)} ×</span>
                <span className="truncate whitespace-pre">{k.text}</span>
              </button>
            ))}
          </div>
          {kind && <Line kind={kind} chosen={chosen} onChosen={(c) => (setChosen(c), setTyped(undefined))} />}
          {chosen.length > 0 && typed === undefined && <Fields chosen={chosen} onChosen={setChosen} />}
          {before.map((p) => (
            <p key={p} className="num flex gap-2 text-xs">
              <span className="truncate">{p}</span>
              <button className="link" onClick={() => setBefore(before.filter((b) => b !== p))}>
                Remove
              </button>
            </p>
          ))}
          <label className="flex items-center gap-2 text-xs">
            <span className="dim w-16 flex-none">pattern</span>
            <input
              className="field tight num min-w-0 flex-1 text-xs"
              aria-label="pattern"
              value={pattern}
              placeholder="t {time:s} s | it … | dT {dT}"
              onChange={(e) => setTyped(e.target.value)}
            />
            <button
              className="btn quiet h-7"
              disabled={!pattern.includes("{")}
              onClick={() => (setBefore([...before, pattern]), pick(-1))}
            >
              And another line
            </button>
          </label>
          <div className="w-96">
            <Choice
              label="if several"
              value={several}
              none="the last, with a note"
              options={[
                ["first", "the first in each row"],
                ["last", "the last in each row"],
                ["rows", "a row for each"],
              ]}
              onChange={(v) => setSeveral(v as Several)}
            />
          </div>
          {numbers.length > 1 && (
            <div className="w-96">
              <Choice
                label="increments"
                value={counted[0] ?? ""}
                none="of no value"
                options={numbers.map((n) => [n, `of ${n}, which goes on rising`] as const)}
                onChange={setRising}
              />
            </div>
          )}
          <Matches study={study.name} run={run} file={file} patterns={patterns} options={options} />
          <div className="flex gap-2">
            <button
              className="btn go"
              disabled={values.length === 0}
              onClick={() =>
                onAdd(
                  values.map((v) => ({
                    kind: "lines",
                    file,
                    patterns: [...patterns],
                    column: v.name,
                    ...(Object.keys(options).length > 0 && { options }),
                  })),
                )
              }
            >
              {values.length > 1 ? `Follow ${values.length} values` : `Follow ${values[0]?.name ?? "the value"}`}
            </button>
            {fields.length === 1 && (
              <span className="dim self-center text-xs">The first number is the axis: choose one more.</span>
            )}
          </div>
        </>
      )}
    </section>
  );
}
