/** Dates and clock times in tables, as seconds: no zone means UTC, so that every machine reads the same number. */
const iso =
  /^(\d{4})[-/](\d{1,2})[-/](\d{1,2})(?:[T ](\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?)?\s*(Z|[+-]\d{2}:?\d{2})?$/;
const dotted = /^(\d{1,2})\.(\d{1,2})\.(\d{4})(?:[T ](\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?)?$/;
const clock = /^(\d{1,3}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?$/;

/**
 * Seconds since 1970-01-01T00:00:00 UTC for a date (ISO 8601, or day.month.year), seconds since midnight for a clock
 * time; undefined for anything else.
 */
export function parseDate(text: string): { seconds: number; kind: "date" | "clock" } | undefined {
  const c = clock.exec(text);
  if (c) return { seconds: Number(c[1]) * 3600 + Number(c[2]) * 60 + seconds(c[3]), kind: "clock" };
  const i = iso.exec(text);
  const d = i ?? dotted.exec(text);
  if (!d) return undefined;
  const [year, month, day] = i
    ? [Number(d[1]), Number(d[2]), Number(d[3])]
    : [Number(d[3]), Number(d[2]), Number(d[1])];
  if (month < 1 || month > 12 || day < 1 || day > 31) return undefined;
  const zone = i?.[7];
  const shift =
    zone === undefined || zone === "Z"
      ? 0
      : (zone.startsWith("-") ? -1 : 1) * (Number(zone.slice(1, 3)) * 3600 + Number(zone.slice(-2)) * 60);
  return {
    seconds:
      Date.UTC(year, month - 1, day) / 1000 + Number(d[4] ?? 0) * 3600 + Number(d[5] ?? 0) * 60 + seconds(d[6]) - shift,
    kind: "date",
  };
}

const seconds = (text: string | undefined): number => (text === undefined ? 0 : Number(text.replace(",", ".")));
