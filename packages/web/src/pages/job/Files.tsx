import type { ReactElement } from "react";
import type { Output } from "@oxtrum/contract";

export const fileUrl = (job: number, file: string): string =>
  `/api/jobs/${job}/files/${encodeURIComponent(file)}?download`;

const known = [".semicolon.csv", ".anim.png"];

/** What tells a file from the others of its output: its ending, or where there is one per run or a frame, that. */
function label(file: string, all: readonly string[]): string {
  const ending = (f: string): string => known.find((k) => f.endsWith(k))?.slice(1) ?? f.split(".").pop() ?? f;
  const same = all.filter((f) => ending(f) === ending(file));
  if (same.length === 1) return ending(file) === "semicolon.csv" ? "csv;" : ending(file);
  const base = (f: string): string => f.slice(0, f.length - ending(f).length - 1);
  let head = 0;
  while (same.every((f) => f[head] !== undefined && f[head] === file[head])) head++;
  const cut = Math.max(0, file.lastIndexOf("/") + 1, head);
  return `${base(file).slice(cut).replace(/^[-_]/, "")}.${ending(file)}`;
}

const MOST_LINKS = 6;

/** The files of an output, to be downloaded. */
export function Files({ job, output }: { job: number; output: Output }): ReactElement {
  const shown = output.files.slice(0, MOST_LINKS);
  const all = output.files.map((f) => f.file);
  return (
    <span className="ml-auto flex flex-wrap gap-x-2 [a+&]:ml-2">
      {shown.map((f) => (
        <a
          key={f.file}
          className="link num text-xs"
          href={fileUrl(job, f.file)}
          download={f.file.split("/").pop()}
          title={`${f.file}, ${f.size} bytes, sha-256 ${f.sha256}`}
        >
          {label(f.file, all)}
        </a>
      ))}
      {output.files.length > shown.length && (
        <span className="dim text-xs" title="All of them are in the archive of the whole job">
          and {output.files.length - shown.length} more
        </span>
      )}
    </span>
  );
}
