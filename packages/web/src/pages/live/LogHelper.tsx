import { useMemo, useState, type ReactElement } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import type { LiveQuantity, LogLines, StudySummary } from "@oxtrum/contract";
import { errorText, useLogLinesQuery } from "../../api";
import { Choice } from "../compare/Choices";
import { Fields, Line, Matches } from "./log-parts";
import { logsOf } from "./logs";
import { useLogPattern, type Several } from "./use-log-pattern";

type Pattern = ReturnType<typeof useLogPattern>;

/** The kinds of lines that a log has, each once, to pick one. */
function Kinds({ kinds, p }: { kinds: LogLines["kinds"]; p: Pattern }): ReactElement {
  return (
    <div
      className="goes-on on-paper max-h-44 flex-none overflow-auto border border-rule"
      role="listbox"
      aria-label="Kinds of lines"
    >
      {kinds.map((k, i) => (
        <button
          key={k.text}
          role="option"
          aria-selected={i === p.at}
          className={`num flex w-full gap-3 px-2 py-0.5 text-left text-xs ${i === p.at ? "bg-oxide-wash" : "hover:bg-sheet"}`}
          onClick={() => p.pick(i)}
        >
          <span className="dim w-12 flex-none text-right">{formatNumber(k.count)} ×</span>
          <span className="truncate whitespace-pre">{k.text}</span>
        </button>
      ))}
    </div>
  );
}

/** The pattern as it is: of the chosen numbers of a line, or typed; and those of other lines beside it. */
function Patterns({ p }: { p: Pattern }): ReactElement {
  return (
    <>
      {p.kind && <Line kind={p.kind} chosen={p.chosen} onChosen={p.choose} />}
      {p.chosen.length > 0 && !p.isTyped && <Fields chosen={p.chosen} onChosen={p.rename} />}
      {p.before.map((text) => (
        <p key={text} className="num flex gap-2 text-xs">
          <span className="truncate">{text}</span>
          <button className="link" onClick={() => p.drop(text)}>
            Remove
          </button>
        </p>
      ))}
      <label className="flex items-center gap-2 text-xs">
        <span className="dim w-16 flex-none">pattern</span>
        <input
          className="field tight num min-w-0 flex-1 text-xs"
          aria-label="pattern"
          value={p.pattern}
          placeholder="t {time:s} s | it … | dT {dT}"
          onChange={(e) => p.type(e.target.value)}
        />
        <button className="btn quiet h-7" disabled={!p.pattern.includes("{")} onClick={p.keep}>
          And another line
        </button>
      </label>
    </>
  );
}

/** What becomes of several matches, and of which value increments are taken. */
function Options({ p }: { p: Pattern }): ReactElement {
  return (
    <>
      <div className="w-96">
        <Choice
          label="if several"
          value={p.several}
          none="the last, with a note"
          options={[
            ["first", "the first in each row"],
            ["last", "the last in each row"],
            ["rows", "a row for each"],
          ]}
          onChange={(v) => p.setSeveral(v as Several)}
        />
      </div>
      {p.numbers.length > 1 && (
        <div className="w-96">
          <Choice
            label="increments"
            value={p.rising}
            none="none"
            options={p.numbers.map((n) => [n, `of ${n}`] as const)}
            onChange={p.setRising}
          />
        </div>
      )}
    </>
  );
}

function Follow({
  p,
  file,
  onAdd,
}: {
  p: Pattern;
  file: string;
  onAdd: (q: readonly LiveQuantity[]) => void;
}): ReactElement {
  const quantities = p.values.map((v): LiveQuantity => ({
    kind: "lines",
    file,
    patterns: [...p.patterns],
    column: v.name,
    ...(Object.keys(p.options).length > 0 && { options: p.options }),
  }));
  return (
    <div className="flex gap-2">
      <button className="btn go" disabled={p.values.length === 0} onClick={() => onAdd(quantities)}>
        {p.values.length > 1 ? `Follow ${p.values.length} values` : `Follow ${p.values[0]?.name ?? "the value"}`}
      </button>
      {p.fields.length === 1 && (
        <span className="dim self-center text-xs">The first number is the axis: choose one more.</span>
      )}
    </div>
  );
}

/** Finds values in a log: click the numbers of a line, name them, see what the pattern finds, follow them. */
export function LogHelper({
  study,
  run,
  first,
  onAdd,
  onClose,
}: {
  study: StudySummary;
  run: string;
  /** The file to begin with. */
  first?: string | undefined;
  onAdd: (q: readonly LiveQuantity[]) => void;
  onClose: () => void;
}): ReactElement {
  const files = useMemo(() => {
    const { logs, others } = logsOf(study);
    return [...logs, ...others];
  }, [study]);
  const [file, setFile] = useState(first !== undefined && files.includes(first) ? first : (files[0] ?? ""));
  const lines = useLogLinesQuery({ study: study.name, run, file }, { skip: file === "" || run === "" });
  const kinds = lines.currentData?.kinds;
  const p = useLogPattern(kinds);
  const choose = (f: string): void => {
    setFile(f);
    p.pick(-1);
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
      {files.length === 0 ? (
        <p className="dim">The runs of this study hold no text files but tables.</p>
      ) : (
        <>
          <div className="w-96">
            <Choice label="file" value={file} options={files} onChange={choose} />
          </div>
          {lines.error && <p className="warn text-xs">{errorText(lines.error)}</p>}
          <Kinds kinds={kinds ?? []} p={p} />
          <Patterns p={p} />
          <Options p={p} />
          <Matches study={study.name} run={run} file={file} patterns={p.patterns} options={p.options} />
          <Follow p={p} file={file} onAdd={onAdd} />
        </>
      )}
    </section>
  );
}
