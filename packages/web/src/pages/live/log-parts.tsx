import { useMemo, type ReactElement } from "react";
import type { NumberInLine } from "@oxtrum/core/tables/line-pattern";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import type { LogLines } from "@oxtrum/contract";
import { errorText, useLogMatchQuery } from "../../api";
import { count } from "../../parts/count";
import { useQuietText } from "../../parts/quiet-text";
import type { LogOptions } from "./use-log-pattern";
import { Working } from "../../parts/Working";

/** A line whose numbers are chosen by a click and named. */
export function Line({
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
      className="goes-on num overflow-x-auto border border-rule px-2 py-1.5 text-xs whitespace-pre"
      role="group"
      aria-label="Line"
    >
      {parts}
    </p>
  );
}

/** Names and units of the chosen numbers. */
export function Fields({
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
export function Matches({
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
  options: LogOptions;
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
  if (!currentData) return <Working className="block h-1 w-16" what="Reading the log" />;
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
