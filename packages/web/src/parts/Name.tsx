import type { ReactElement } from "react";

/** A name cut in the middle when it is long; whole on hover, and whole when copied. */
export function Name({
  text,
  most = 28,
  className = "",
}: {
  text: string;
  most?: number;
  className?: string;
}): ReactElement {
  if (text.length <= most) return <span className={className}>{text}</span>;
  const half = Math.floor((most - 1) / 2);
  return (
    <span
      className={className}
      title={text}
      onCopy={(e) => {
        e.clipboardData.setData("text/plain", text);
        e.preventDefault();
      }}
    >
      {text.slice(0, half)}…{text.slice(text.length - half)}
    </span>
  );
}
