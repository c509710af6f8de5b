import type { ReactElement, ReactNode } from "react";
import { Link } from "react-router";
import type { Job, Output } from "@oxtrum/contract";
import { cellText } from "../../parts/DataTable";
import { Files } from "./Files";
import type { Numbers } from "./copy";

const MOST_SHOWN = 300;

function Section({
  title,
  children,
  open = false,
}: {
  title: string;
  children: ReactNode;
  open?: boolean;
}): ReactElement {
  return (
    <details className="border-b border-soft py-2" open={open}>
      <summary className="cursor-pointer font-medium">{title}</summary>
      <div className="pt-1 text-xs">{children}</div>
    </details>
  );
}

/** The line of the script that made it, with those around it. */
function LineSection({ job, output }: { job: Job; output: Output }): ReactElement {
  const lines = job.files[output.file]?.split("\n") ?? [];
  const around = lines.slice(Math.max(0, output.line - 3), output.line + 6);
  return (
    <Section title={`Line ${output.line}`} open>
      <Link className="link num" to={`/scripts/${encodeURIComponent(output.file)}`}>
        {output.file}:{output.line}
      </Link>
      <pre className="goes-on num mt-1 overflow-x-auto leading-5">
        {around.map((l, k) => (
          <div
            key={k}
            className={
              Math.max(0, output.line - 3) + k + 1 === output.line ? "border-l-2 border-oxide pl-1.5" : "dim pl-2"
            }
          >
            {l || " "}
          </div>
        ))}
      </pre>
    </Section>
  );
}

/** Runs that are not in it, with what was wrong. */
function LeftSection({ output }: { output: Output }): ReactElement {
  return (
    <Section title={`Excluded: ${output.left.length}`} open>
      {output.left.map((l) => (
        <p key={l.run}>
          <span className="num">{l.run}</span> {l.reason}
          {l.file !== undefined && (
            <span className="num dim">
              {" "}
              {l.file}
              {l.line !== undefined ? `:${l.line}` : ""}
            </span>
          )}
          {l.hint !== undefined && <span className="dim"> {l.hint}</span>}
        </p>
      ))}
    </Section>
  );
}

/** The numbers that it draws. */
function NumbersSection({ numbers }: { numbers: Numbers }): ReactElement {
  return (
    <Section title={`Numbers: ${numbers.rows}`}>
      <table className="w-full">
        <thead>
          <tr>
            {numbers.columns.map((c) => (
              <th key={c.name} className={`pr-2 font-medium ${c.kind === "number" ? "text-right" : "text-left"}`}>
                {c.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {Array.from({ length: Math.min(MOST_SHOWN, numbers.rows) }, (_, i) => (
            <tr key={i} className="border-t border-soft">
              {numbers.columns.map((c) => (
                <td key={c.name} className={`pr-2 ${c.kind === "number" ? "num text-right" : "max-w-24 truncate"}`}>
                  {cellText(c.kind === "number" && Number.isNaN(c.values[i]!) ? null : c.values[i]!)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {numbers.rows > MOST_SHOWN && (
        <p className="dim pt-1">{numbers.rows - MOST_SHOWN} more; copy them all with the button above.</p>
      )}
    </Section>
  );
}

/** What there is to know of an output: files, line, what was done, runs, inputs, numbers. */
export function Facts({
  job,
  output,
  numbers,
}: {
  job: Job;
  output: Output;
  numbers: Numbers | undefined;
}): ReactElement {
  return (
    <aside className="w-80 overflow-auto border-l border-rule px-4 py-2">
      <Section title="Files" open>
        {output.files.length === 0 ? <span className="dim">none</span> : <Files job={job.id} output={output} />}
        {output.digest !== undefined && <p className="dim pt-1 break-all">digest {output.digest.slice(0, 24)}</p>}
      </Section>
      <LineSection job={job} output={output} />
      {output.notes.length > 0 && (
        <Section title="What was done" open>
          {output.notes.map((n, i) => (
            <p key={i} className="py-0.5">
              {n}
            </p>
          ))}
        </Section>
      )}
      <Section title={`Runs: ${output.runs}`}>
        {output.of ? (
          <p className="num leading-5">{output.of.join(", ")}</p>
        ) : (
          <p className="dim">
            {output.runs > 0 ? "More than are listed here; the manifest names them." : "It holds no runs."}
          </p>
        )}
      </Section>
      {output.inputs && (
        <Section title={`Made from: ${output.inputs.length}`} open>
          {output.inputs.map((i) => (
            <p key={i} className="num break-all py-0.5">
              {i}
            </p>
          ))}
        </Section>
      )}
      {output.left.length > 0 && <LeftSection output={output} />}
      {numbers && <NumbersSection numbers={numbers} />}
    </aside>
  );
}
