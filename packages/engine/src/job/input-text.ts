import { plainUnit } from "@oxtrum/core/tables";

/** An input as it was set, in words. */
export function inputText(value: unknown): string {
  if (value !== null && typeof value === "object" && "value" in value) {
    const q = value as { value: number; unit: string | null };
    return `${q.value} ${plainUnit(q.unit) ?? ""}`.trim();
  }
  return String(value);
}
