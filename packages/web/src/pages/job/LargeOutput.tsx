import { ChevronLeft, ChevronRight, ClipboardCopy, Image, Maximize, X } from "lucide-react";
import { Dialog } from "radix-ui";
import { useEffect, useMemo, useRef, useState, type ReactElement, type ReactNode, type RefObject } from "react";
import { chartNumbers } from "@oxtrum/core/charts";
import { useValueQuery } from "../../api";
import type { Job, Output } from "@oxtrum/contract";
import { chartFromWire } from "../../parts/chart/chart-from-wire";
import { coverage } from "../script/cards";
import { copyNumbers, copyPicture, type Numbers } from "./copy";
import { Facts } from "./Facts";
import { isBig, Shown } from "./Shown";

/** The numbers that a chart draws, as a table. */
function useNumbers(job: number, output: Output): Numbers | undefined {
  const { data } = useValueQuery(
    { job, name: output.name },
    { skip: output.kind !== "chart" || output.failed !== undefined },
  );
  return useMemo(() => (data?.kind === "chart" ? chartNumbers(chartFromWire(data.chart)) : undefined), [data]);
}

const tool = "dim hover:text-ink";

function Tool({ what, onUse, children }: { what: string; onUse: () => void; children: ReactNode }): ReactElement {
  return (
    <button className={tool} aria-label={what} title={what} onClick={onUse}>
      {children}
    </button>
  );
}

/** What can be taken of an output as it is seen. */
function Tools({
  output,
  numbers,
  place,
  onSaid,
}: {
  output: Output;
  numbers: Numbers | undefined;
  place: RefObject<HTMLDivElement | null>;
  onSaid: (text: string) => void;
}): ReactElement {
  const copy = async (work: Promise<unknown>, what: string): Promise<void> => {
    await work;
    onSaid(`${what} copied`);
  };
  return (
    <>
      {numbers && (
        <Tool what="Copy the numbers" onUse={() => void copy(copyNumbers(numbers), "Numbers")}>
          <ClipboardCopy size={15} />
        </Tool>
      )}
      {(output.kind === "chart" || output.kind === "picture") && (
        <Tool what="Copy as a picture" onUse={() => void copy(copyPicture(place.current!), "Picture")}>
          <Image size={15} />
        </Tool>
      )}
      {isBig(output) && (
        <Tool what="Full screen" onUse={() => void place.current?.requestFullscreen()}>
          <Maximize size={15} />
        </Tool>
      )}
    </>
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
            <span className="dim truncate">{[output.kind, coverage(output)].filter((t) => t !== "").join(" · ")}</span>
            <span className="dim ml-auto text-xs" role="status">
              {said}
            </span>
            <Tools output={output} numbers={numbers} place={place} onSaid={setSaid} />
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
            <Facts job={job} output={output} numbers={numbers} />
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
