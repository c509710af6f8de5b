import type { ReactElement } from "react";
import { Link } from "react-router";
import type { Job } from "@oxtrum/contract";

type Live = Job["live"];

/** A place in a file. */
const Place = ({ file, line }: { file: string; line?: number | undefined }): ReactElement => (
  <span className="num dim">
    {file}
    {line !== undefined ? `:${line}` : ""}
  </span>
);

/** What the check says of the script. */
export function Diagnostics({ diagnostics }: { diagnostics: Live["diagnostics"] }): ReactElement | null {
  if (diagnostics.length === 0) return null;
  return (
    <ul className="border border-oxide bg-sheet px-3 py-2">
      {diagnostics.map((d, i) => (
        <li key={i}>
          <Link className="num link" to={`/scripts/${encodeURIComponent(d.file)}`}>
            {d.file}:{d.line}
          </Link>{" "}
          {d.severity === "warning" ? "warning: " : ""}
          {d.message}
        </li>
      ))}
    </ul>
  );
}

const MOST_SHOWN = 200;

/** Errors and warnings of the job. */
export function Messages({ messages }: { messages: Live["messages"] }): ReactElement | null {
  const shown = messages.filter((m) => m.level !== "note");
  if (shown.length === 0) return null;
  return (
    <details open={shown.length < 4}>
      <summary className="cursor-pointer font-medium">
        Messages <span className="dim">{shown.length}</span>
      </summary>
      <ul className="mt-1">
        {shown.slice(0, MOST_SHOWN).map((m, i) => (
          <li key={i} className="border-b border-soft py-1">
            {m.text}
            {m.file !== undefined && (
              <>
                {" "}
                <Place file={m.file} line={m.line} />
              </>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}

/** The runs that are excluded, and why. */
export function Excluded({ left }: { left: Live["left"] }): ReactElement | null {
  if (left.length === 0) return null;
  return (
    <div>
      <h2 className="pb-1 font-medium">Excluded</h2>
      <table className="ruled">
        <tbody>
          {left.map((l) => (
            <tr key={l.run}>
              <td className="num">{l.run}</td>
              <td>
                {l.reason} {l.file !== undefined && !l.reason.includes(l.file) && <Place file={l.file} line={l.line} />}
                {l.hint !== undefined && <div className="dim">{l.hint}</div>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
