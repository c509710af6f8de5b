import { useState, type ReactElement } from "react";

/** Something that cannot be taken back: a first click asks, a second one does it. */
export function AskedTwice({
  act,
  question,
  yes = act,
  label,
  onYes,
}: {
  act: string;
  question?: string;
  /** What the second button says; the same as the first when not given. */
  yes?: string;
  label?: string;
  onYes: () => void;
}): ReactElement {
  const [asking, setAsking] = useState(false);
  if (!asking)
    return (
      <button className="link dim" aria-label={label} onClick={() => setAsking(true)}>
        {act}
      </button>
    );
  return (
    <span className="flex justify-end gap-2">
      {question !== undefined && <span className="dim">{question}</span>}
      <button className="link text-oxide" onClick={onYes}>
        {yes}
      </button>
      <button className="link" onClick={() => setAsking(false)}>
        Keep
      </button>
    </span>
  );
}
