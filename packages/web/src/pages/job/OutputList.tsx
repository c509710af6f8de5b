import type { ReactElement } from "react";
import type { Output } from "@oxtrum/contract";
import { VerdictMark } from "../../parts/marks";
import { Name } from "../../parts/Name";
import { coverage } from "../script/cards";
import { Files } from "./Files";

/** Outputs as rows, for jobs that have many. */
export function OutputList({
  job,
  outputs,
  onOpen,
}: {
  job: number;
  outputs: readonly Output[];
  onOpen: (name: string) => void;
}): ReactElement {
  return (
    <table className="ruled w-full">
      <thead>
        <tr>
          <th className="text-left">output</th>
          <th className="text-left">kind</th>
          <th className="text-left">holds</th>
          <th className="text-right">line</th>
          <th className="text-left">files</th>
        </tr>
      </thead>
      <tbody>
        {outputs.map((o) => (
          <tr key={o.name}>
            <td>
              <button className="link num text-left" onClick={() => onOpen(o.name)}>
                <Name text={o.name} most={34} />
              </button>
            </td>
            <td className="dim">
              {o.kind === "check" ? (
                <span className="inline-flex items-center gap-1.5">
                  <VerdictMark verdict={o.verdict} /> check
                </span>
              ) : (
                o.kind
              )}
            </td>
            <td className={o.failed === undefined ? "max-w-80 truncate" : "text-oxide"}>
              {o.failed !== undefined ? `not made: ${o.failed}` : (o.summary ?? coverage(o))}
            </td>
            <td className="num text-right">{o.line}</td>
            <td>
              <Files job={job} output={o} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
