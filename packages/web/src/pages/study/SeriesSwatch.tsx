import type { ReactElement } from "react";
import { darkTheme, dashes, lightTheme, rampColor } from "@oxtrum/core/charts";
import { useDark } from "../../parts/theme";

/** The line by which a run is drawn: its colour and its dash. */
export function SeriesSwatch({ index, total }: { index: number; total: number }): ReactElement {
  const theme = useDark() ? darkTheme : lightTheme;
  const many = total > 8;
  const color = many ? rampColor(theme, index / (total - 1)) : theme.series[index % 8]!;
  return (
    <svg width="18" height="14" aria-hidden>
      <path
        d="M1 7h16"
        stroke={color}
        strokeWidth="2.2"
        strokeDasharray={many ? undefined : dashes[index % 8]!.map((d) => d * 0.7).join(" ")}
      />
    </svg>
  );
}
