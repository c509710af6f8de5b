import { useState } from "react";
import { patternFor, type NumberInLine } from "@oxtrum/core/tables/line-pattern";
import type { LiveQuantity, LogLines } from "@oxtrum/contract";

export type Several = "" | "first" | "last" | "rows";
export type LogOptions = NonNullable<Extract<LiveQuantity, { kind: "lines" }>["options"]>;

/** Patterns in the making: from clicks on numbers of a line, or as they are typed. */
export function useLogPattern(kinds: LogLines["kinds"] | undefined) {
  const [at, setAt] = useState<number | undefined>();
  const [chosen, setChosen] = useState<readonly NumberInLine[]>([]);
  const [before, setBefore] = useState<readonly string[]>([]);
  const [typed, setTyped] = useState<string | undefined>();
  const [several, setSeveral] = useState<Several>("");
  const [rising, setRising] = useState("");
  const kind = at === undefined ? undefined : kinds?.[at];
  const pattern = typed ?? (kind ? patternFor(kind.text, chosen) : "");
  const patterns = [...before, ...(pattern.includes("{") ? [pattern] : [])];
  const fields = patterns.flatMap((p) =>
    [...p.matchAll(/\{\s*([^:{}]+?)\s*(?::\s*([^{}]*))?\}/g)].map((m) => ({ name: m[1]!, text: m[2] === "text" })),
  );
  const numbers = fields.filter((f) => !f.text).map((f) => f.name);
  const counted = numbers.includes(rising) ? [rising] : [];
  const values = [...fields.slice(1).filter((f) => !f.text), ...counted.map((n) => ({ name: `${n}.increment` }))];
  const options: LogOptions = {
    ...(several !== "" && { several }),
    ...(counted.length > 0 && { increments: counted }),
  };
  const pick = (k: number): void => {
    setAt(k);
    setChosen([]);
    setTyped(undefined);
  };
  return {
    at,
    kind,
    chosen,
    /** Chooses numbers of the line: the pattern is made from them again. */
    choose: (c: readonly NumberInLine[]): void => {
      setChosen(c);
      setTyped(undefined);
    },
    rename: setChosen,
    pick,
    pattern,
    isTyped: typed !== undefined,
    type: setTyped,
    before,
    keep: (): void => {
      setBefore([...before, pattern]);
      pick(-1);
    },
    drop: (p: string): void => setBefore(before.filter((b) => b !== p)),
    patterns,
    fields,
    values,
    numbers,
    rising: counted[0] ?? "",
    setRising,
    several,
    setSeveral,
    options,
  };
}
