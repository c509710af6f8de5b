import { displayUnit, formatNumber } from "@oxtrum/core/tables";
import { shownComponents, type ShownMesh } from "@oxtrum/engine";
import { columnsOf, counted } from "./text-table.js";

const range = (m: readonly number[], k: number): string =>
  `${formatNumber(m[2 * k]!, 5)} … ${formatNumber(m[2 * k + 1]!, 5)}`;

/** What a mesh file holds, as lines of text. */
export function meshLines(file: string, m: ShownMesh): string[] {
  const kinds = Object.entries(m.cellTypes).map(([name, n]) => `${formatNumber(n)} ${name}`);
  const fields = m.fields.flatMap((f) => {
    const ends = (v: number | number[] | null, k: number): string =>
      v === null ? "–" : formatNumber(typeof v === "number" ? v : v[k]!, 6);
    const rows = shownComponents(f).map((name, k) => [
      name,
      f.on,
      f.type,
      displayUnit(f.unit) || "?",
      ends(f.min, k),
      ends(f.max, k),
    ]);
    return f.magnitude
      ? [
          ...rows,
          [
            `${f.name}.mag`,
            f.on,
            f.type,
            displayUnit(f.unit) || "?",
            formatNumber(f.magnitude[0], 6),
            formatNumber(f.magnitude[1], 6),
          ],
        ]
      : rows;
  });
  return [
    `${file}: field, ${formatNumber(m.points)} points, ${formatNumber(m.cells)} cells (${kinds.join(", ") || "none"})`,
    ...(m.bounds.length === 6 ? [`  x ${range(m.bounds, 0)}, y ${range(m.bounds, 1)}, z ${range(m.bounds, 2)}`] : []),
    ...(m.times.length > 0
      ? [
          `  ${counted(m.times.length, "time")}: ${formatNumber(m.times[0]!)} … ` +
            `${formatNumber(m.times[m.times.length - 1]!)}; the first is shown`,
        ]
      : []),
    ...columnsOf(["field", "on", "type", "unit", "min", "max"], fields, [false, false, false, false, true, true]).map(
      (l) => "  " + l,
    ),
    ...m.patches.map(
      (p) =>
        `  patch ${p.name}: ${formatNumber(p.faces)} faces${p.area === null ? "" : `, area ${formatNumber(p.area)}`}`,
    ),
    ...m.blocks.map(
      (b) =>
        `  block ${b.name}: ${formatNumber(b.cells)} cells${b.volume === null ? "" : `, volume ${formatNumber(b.volume)}`}`,
    ),
    ...(m.fields.some((f) => f.min === null) ? ["  --deep reads all values and tells ranges, areas and volumes"] : []),
  ];
}
