/** Series colours, in order: colour-blind safe, each with its own dash and marker so that print works. */
export const palette = [
  "#AC4427",
  "#2C7A70",
  "#C08A1E",
  "#48639C",
  "#7B4B7A",
  "#6B7A2A",
  "#8C6A56",
  "#7C8A8F",
] as const;
const darkPalette = ["#E0754F", "#5DB5A6", "#D9A94A", "#8AA3D8", "#B98AB8", "#A5B45C", "#BE9C88", "#A6B3B7"] as const;

export const dashes: readonly (readonly number[])[] = [
  [],
  [7, 3],
  [2, 3],
  [9, 3, 2, 3],
  [5, 2, 1, 2],
  [12, 4],
  [1, 2],
  [4, 4],
];
export const markers = ["circle", "rectRot", "triangle", "rect", "crossRot", "star", "rectRounded", "cross"] as const;

export interface Theme {
  readonly name: "light" | "dark" | "print";
  readonly sheet: string;
  readonly ink: string;
  readonly pencil: string;
  readonly rule: string;
  readonly series: readonly string[];
  /** The two ends of the ramp for runs ordered by a parameter. */
  readonly ramp: readonly [Rgb, Rgb];
}

type Rgb = readonly [number, number, number];

export const lightTheme: Theme = {
  name: "light",
  sheet: "#FFFFFF",
  ink: "#1F2629",
  pencil: "#5F6B6D",
  rule: "#E6E1D6",
  series: palette,
  ramp: [
    [226, 170, 148],
    [122, 38, 18],
  ],
};
export const darkTheme: Theme = {
  name: "dark",
  sheet: "#1E2224",
  ink: "#ECE8DF",
  pencil: "#9BA5A4",
  rule: "#33393B",
  series: darkPalette,
  ramp: [
    [120, 62, 44],
    [250, 190, 165],
  ],
};

/** Ink on white paper: black text, darker series that keep apart in grey. */
export const printTheme: Theme = {
  name: "print",
  sheet: "#FFFFFF",
  ink: "#000000",
  pencil: "#303030",
  rule: "#D4D4D4",
  series: ["#98331A", "#1D6A60", "#A87408", "#35508A", "#6A3769", "#58681B", "#7A5945", "#606E73"],
  ramp: [
    [214, 150, 124],
    [96, 26, 8],
  ],
};

/** A colour on the ramp; lightness changes evenly. */
export function rampColor(theme: Theme, share: number): string {
  const s = Math.min(1, Math.max(0, share));
  const [a, b] = theme.ramp;
  return (
    "#" +
    a
      .map((x, i) =>
        Math.round(x + (b[i]! - x) * s)
          .toString(16)
          .padStart(2, "0"),
      )
      .join("")
      .toUpperCase()
  );
}
