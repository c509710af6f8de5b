import type { ReactElement, ReactNode } from "react";
import { Working } from "../parts/Working";

/** An empty place: what goes here, and the one next act. */
export function Empty({
  title,
  children,
  act,
}: {
  title: string;
  children?: ReactNode;
  act?: ReactNode;
}): ReactElement {
  return (
    <div className="flex h-full min-h-40 flex-col items-start justify-center gap-2 px-8 py-6">
      <h2 className="text-md font-semibold">{title}</h2>
      {children && <p className="dim max-w-120">{children}</p>}
      {act && <div className="pt-2">{act}</div>}
    </div>
  );
}

/** An error: what, and what to do. */
export function Trouble({ text, children }: { text: string; children?: ReactNode }): ReactElement {
  return (
    <div role="alert" className="m-4 border border-oxide bg-sheet px-4 py-3">
      {text} {children}
    </div>
  );
}

export const Loading = ({ what }: { what: string }): ReactElement => (
  <div className="dim flex items-center gap-3 p-8">
    <Working className="inline-block h-1 w-16" /> {what}
  </div>
);
