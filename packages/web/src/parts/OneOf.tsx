import { RadioGroup } from "radix-ui";
import type { ReactElement } from "react";

/** One of a few words, all of them in sight: arrow keys go from one to the next. */
export function OneOf<V extends string>({
  label,
  value,
  options,
  onChange,
  joined = false,
}: {
  label: string;
  value: V;
  options: readonly (readonly [value: V, word: string])[];
  onChange: (v: V) => void;
  /** As one strip, of the height of a line. */
  joined?: boolean;
}): ReactElement {
  const look = (on: boolean): string =>
    joined
      ? `-ml-px border px-2 py-0.5 text-xs ${on ? "border-oxide text-oxide" : "border-rule text-pencil hover:text-ink"}`
      : `btn ${on ? "" : "quiet"}`;
  return (
    <RadioGroup.Root
      className={joined ? "flex" : "flex gap-2"}
      aria-label={label}
      orientation="horizontal"
      value={value}
      onValueChange={(v) => onChange(v as V)}
    >
      {options.map(([v, word]) => (
        <RadioGroup.Item key={v} value={v} className={look(v === value)}>
          {word}
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  );
}
