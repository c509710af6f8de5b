import { formatNumber } from "@oxtrum/core/tables/number-format";

/** A number with its noun. @example count(1, "run") // "1 run" */
export const count = (n: number, noun: string): string => `${formatNumber(n)} ${noun}${n === 1 ? "" : "s"}`;
