import { ChevronLeft, ChevronRight, ClipboardCopy, Image, Maximize, X } from "lucide-react";
import { Dialog } from "radix-ui";
import { useEffect, useMemo, useRef, useState, type ReactElement, type ReactNode } from "react";
import { Link } from "react-router";
import { chartNumbers } from "@oxtrum/core/charts";
import { exactNumber } from "@oxtrum/core/tables/number-format";
import { useValueQuery } from "../../api/api";
import type { Job, Output } from "@oxtrum/contract";
import { chartFromWire } from "../../parts/ChartView";
import { cellText } from "../../parts/DataTable";
import { coverage } from "../script/cards";
import { Files } from "./Files";
import { isBig, Shown } from "./Shown";

const MOST_SHOWN = 300;

/** The numbers that a chart draws, as a table. */
function useNumbers(job: number, output: Output): ReturnType<typeof chartNumbers> | undefined {
  const { data } = useValueQuery(
    { job, name: output.name },
    { skip: output.kind !== "chart" || output.failed !== undefined },
  );
  return useMemo(() => (data?.kind === "chart" ? chartNumbers(chartFromWire(data.chart)) : undefined), [data]);
}

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

/** One output over the whole page: with its numbers, files, line, runs and inputs. */
export function LargeOutput({
  job,
  output,
  onClose,
  onStep,
}: {
  job: Job;
  output: Output;
  onClose: () => void;
  onStep: (by: number) => void;
}): ReactElement {
  const numbers = useNumbers(job.id, output);
  const place = useRef<HTMLDivElement>(null);
  const [said, setSaid] = useState("");
  useEffect(() => {
    const key = (e: KeyboardEvent): void => {
      if (e.target instanceof HTMLInputElement) return;
      if (e.key === "ArrowRight") onStep(1);
      if (e.key === "ArrowLeft") onStep(-1);
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, [onStep]);
  const lines = job.files[output.file]?.split("\n") ?? [];
  const around = lines.slice(Math.max(0, output.line - 3), output.line + 6);
  const copyNumbers = async (): Promise<void> => {
    if (!numbers) return;
    const rows = Array.from({ length: numbers.rows }, (_, i) =>
      numbers.columns.map((c) => (c.kind === "number" ? exactNumber(c.values[i]!) : c.values[i]!)).join("\t"),
    );
    const head = numbers.columns
      .map((c) => (c.kind === "number" && c.unit !== null ? `${c.name} [${c.unit}]` : c.name))
      .join("\t");
    await navigator.clipboard.writeText([head, ...rows].join("\n"));
    setSaid("Numbers copied");
  };
  const copyPicture = async (): Promise<void> => {
    const element = place.current?.querySelector("canvas, img");
    if (!element) return;
    const canvas = document.createElement("canvas");
    const source = element as HTMLCanvasElement & HTMLImageElement;
    canvas.width = source.naturalWidth || source.width;
    canvas.height = source.naturalHeight || source.height;
    const ctx = canvas.getContext("2d")!;
    ctx.fillStyle = getComputedStyle(place.current!).backgroundColor;
    ctx.fillRect(0, 0, canvas.width, canvas.height);
    ctx.drawImage(source, 0, 0, canvas.width, canvas.height);
    const all = place.current!.querySelectorAll("canvas");
    const frame = place.current!.getBoundingClientRect();
    // Panels have canvases of their own over the first one.
    const ratio = canvas.width / (frame.width || 1);
    if (all.length > 1)
      all.forEach((c) => {
        const r = c.getBoundingClientRect();
        ctx.drawImage(c, (r.left - frame.left) * ratio, (r.top - frame.top) * ratio, r.width * ratio, r.height * ratio);
      });
    const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/png"));
    if (blob) await navigator.clipboard.write([new ClipboardItem({ "image/png": blob })]);
    setSaid("Picture copied");
  };
  const tool = "dim hover:text-ink";
  return (
    <Dialog.Root open onOpenChange={(o) => !o && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <Dialog.Content
          className="fixed inset-6 z-50 flex flex-col border border-rule bg-sheet shadow-lg"
          aria-describedby={undefined}
        >
          <header className="flex items-center gap-3 border-b border-rule px-4 py-2">
            <button className={tool} aria-label="The output before" onClick={() => onStep(-1)}>
              <ChevronLeft size={16} />
            </button>
            <button className={tool} aria-label="The next output" onClick={() => onStep(1)}>
              <ChevronRight size={16} />
            </button>
            <Dialog.Title className="num truncate font-semibold">{output.name}</Dialog.Title>
            <span className="dim truncate">
              {output.kind} · {coverage(output)}
            </span>
            <span className="dim ml-auto text-xs" role="status">
              {said}
            </span>
            {numbers && (
              <button
                className={tool}
                aria-label="Copy the numbers"
                title="Copy the numbers"
                onClick={() => void copyNumbers()}
              >
                <ClipboardCopy size={15} />
              </button>
            )}
            {(output.kind === "chart" || output.kind === "picture") && (
              <button
                className={tool}
                aria-label="Copy as a picture"
                title="Copy as a picture"
                onClick={() => void copyPicture()}
              >
                <Image size={15} />
              </button>
            )}
            {isBig(output) && (
              <button
                className={tool}
                aria-label="Full screen"
                title="Full screen"
                onClick={() => void place.current?.requestFullscreen()}
              >
                <Maximize size={15} />
              </button>
            )}
            <Dialog.Close aria-label="Close">
              <X size={15} />
            </Dialog.Close>
          </header>
          <div className="flex min-h-0 flex-1">
            <div ref={place} className="min-w-0 flex-1 bg-sheet p-2">
              {isBig(output) ? (
                <Shown key={output.name} job={job.id} output={output} />
              ) : (
                <p className={`p-4 whitespace-pre-wrap ${output.kind === "text" ? "" : "num text-md"}`}>
                  {output.failed ?? output.summary}
                </p>
              )}
            </div>
            <aside className="w-80 overflow-auto border-l border-rule px-4 py-2">
              <Section title="Files" open>
                {output.files.length === 0 ? <span className="dim">none</span> : <Files job={job.id} output={output} />}
                {output.digest !== undefined && (
                  <p className="dim pt-1 break-all">digest {output.digest.slice(0, 24)}</p>
                )}
              </Section>
              <Section title={`Line ${output.line}`} open>
                <Link className="link num" to={`/scripts/${encodeURIComponent(output.file)}`}>
                  {output.file}:{output.line}
                </Link>
                <pre className="num mt-1 overflow-x-auto leading-5">
                  {around.map((l, k) => (
                    <div
                      key={k}
                      className={
                        Math.max(0, output.line - 3) + k + 1 === output.line
                          ? "border-l-2 border-oxide pl-1.5"
                          : "dim pl-2"
                      }
                    >
                      {l || " "}
                    </div>
                  ))}
                </pre>
              </Section>
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
              {output.left.length > 0 && (
                <Section title={`Left out: ${output.left.length}`} open>
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
              )}
              {numbers && (
                <Section title={`Numbers: ${numbers.rows}`}>
                  <table className="w-full">
                    <thead>
                      <tr>
                        {numbers.columns.map((c) => (
                          <th
                            key={c.name}
                            className={`pr-2 font-medium ${c.kind === "number" ? "text-right" : "text-left"}`}
                          >
                            {c.name}
                          </th>
                        ))}
                      </tr>
                    </thead>
                    <tbody>
                      {Array.from({ length: Math.min(MOST_SHOWN, numbers.rows) }, (_, i) => (
                        <tr key={i} className="border-t border-soft">
                          {numbers.columns.map((c) => (
                            <td
                              key={c.name}
                              className={`pr-2 ${c.kind === "number" ? "num text-right" : "max-w-24 truncate"}`}
                            >
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
              )}
            </aside>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
