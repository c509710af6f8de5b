/**
 * Names of earlier versions of the script library, and what they are called now: of verbs, options, columns and values.
 * There is no second name for a thing; a script that still uses an old one is told the new one.
 */
const renamed: Readonly<Record<string, readonly string[]>> = {
  apart: ["categorical"],
  both: ["linePoints"],
  chance: ["pValue"],
  corner: ["isometric"],
  cycleMean: ["phaseAverage"],
  distinct: ["categorical"],
  errors: ["errorBars"],
  governs: ["maxColumn"],
  high: ["upper"],
  index: ["gci"],
  lags: ["minColumn"],
  least: ["min"],
  low: ["lower", "lowpass"],
  most: ["maxLag", "max"],
  move: ["shiftAxis"],
  ramp: ["sequential"],
  share: ["etaSquared", "fraction", "relative"],
  upright: ["swapAxes"],
  yPlus: ["y.plus"],
  "+x": ["fromX+"],
  "-x": ["fromX-"],
  "+y": ["fromY+"],
  "-y": ["fromY-"],
  "+z": ["fromZ+"],
  "-z": ["fromZ-"],
};
/** Columns and fields that are called after what they are made of. */
const patterns: readonly (readonly [RegExp, readonly string[]])[] = [
  [/^(.+)\.low$/, ["$1.lower", "$1.lowpass"]],
  [/^(.+)\.high$/, ["$1.upper"]],
  [/^grad([A-Z]\w*)/, ["$1.gradient"]],
  [/^div([A-Z]\w*)/, ["$1.divergence"]],
  [/^curl([A-Z]\w*)/, ["$1.curl"]],
  [/^(.*)governs$/, ["$1maxColumn"]],
  [/^(.*)lags$/, ["$1minColumn"]],
];

/**
 * What a name of an earlier version is called now.
 *
 * @param there the names that there are, where they are known: no others are given
 *
 * @example
 *   newNames("move", ["shiftAxis", "max"]); // ["shiftAxis"]
 */
export function newNames(old: string, there?: readonly string[]): string[] {
  const direct = Object.hasOwn(renamed, old) ? renamed[old]! : [];
  const made = patterns.flatMap(([p, to]) => (p.test(old) ? to.map((t) => old.replace(p, t)) : []));
  return [...new Set([...direct, ...made])].filter((n) => there === undefined || there.includes(n));
}

/** That a name is called otherwise now. @param now of which there is one at least */
export const renamedText = (old: string, now: readonly string[]): string =>
  `"${old}" is called ${now.map((n) => `"${n}"`).join(" or ")} now.`;
