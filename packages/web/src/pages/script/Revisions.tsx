import { Popover } from "radix-ui";
import type { ReactElement } from "react";
import { useLazyRevisionQuery, useRevisionsQuery } from "../../api";
import { ago } from "../../parts/ago";

/** The saved states of a script; an older one can be taken back into the editor. */
export function Revisions({
  name,
  revision,
  saved,
  current,
  onTake,
}: {
  name: string;
  revision: number;
  /** What of the text is saved. */
  saved: string;
  current: string;
  onTake: (text: string) => void;
}): ReactElement {
  const { data } = useRevisionsQuery(name);
  const [get] = useLazyRevisionQuery();
  const take = async (number: number): Promise<void> => {
    const r = await get({ name, number });
    if (r.data && r.data.text !== current) onTake(r.data.text);
  };
  return (
    <Popover.Root>
      <Popover.Trigger className="dim link text-xs whitespace-nowrap">
        revision {revision}, {saved}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="end"
          sideOffset={8}
          className="z-30 max-h-80 w-72 overflow-auto border border-rule bg-sheet p-2 shadow-md"
        >
          <p className="dim px-2 pb-1 text-xs">Taking one puts its text in the editor; nothing is lost.</p>
          {data?.map((r) => (
            <button
              key={r.number}
              className="flex w-full gap-3 px-2 py-0.5 text-left hover:bg-paper"
              onClick={() => void take(r.number)}
            >
              <span className="num">{r.number}</span>
              <span className="dim">{ago(r.createdAt)}</span>
              <span className="num dim ml-auto">{r.size}</span>
            </button>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
