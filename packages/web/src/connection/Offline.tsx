import type { ReactElement } from "react";
import { useAppSelector } from "../store";

/** A quiet line while the server does not answer: work goes on, nothing typed is lost. */
export function Offline(): ReactElement | null {
  const status = useAppSelector((s) => s.view.connection);
  if (status !== "offline") return null;
  return (
    <p role="status" className="flex-none border-b border-rule bg-soft px-4 py-1 text-xs">
      The server does not answer. Text that you type is kept in this browser and saved as soon as it does.
    </p>
  );
}
