import { Dialog } from "radix-ui";
import type { ReactElement } from "react";
import { setKeys, useAppDispatch, useAppSelector } from "../store";

const keys: readonly [string, string][] = [
  ["Ctrl K", "find or do anything"],
  ["Ctrl ↵", "try the script on one run"],
  ["Ctrl ⇧ ↵", "run it on all runs"],
  ["Ctrl S", "save a revision"],
  ["Ctrl Space", "names that fit here"],
  ["Ctrl F", "find in the script"],
  ["?", "this list"],
  ["Esc", "close"],
];

/** The list of keys. */
export function Keys(): ReactElement {
  const open = useAppSelector((s) => s.view.keys);
  const dispatch = useAppDispatch();
  return (
    <Dialog.Root open={open} onOpenChange={(o) => dispatch(setKeys(o))}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          className="fixed top-32 left-1/2 z-50 w-90 -translate-x-1/2 border border-rule bg-sheet p-5 shadow-lg"
          aria-describedby={undefined}
        >
          <Dialog.Title className="mb-3 text-md font-semibold">Keys</Dialog.Title>
          <dl className="grid grid-cols-[110px_1fr] gap-y-2">
            {keys.map(([k, what]) => (
              <div key={k} className="contents">
                <dt>
                  <kbd>{k}</kbd>
                </dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
