import { threadSeconds } from "./thread-seconds.js";
import { chance, mutate, type Chance } from "./mutate.js";

/** Something that reads files: whole ones to begin with, and how one is read. */
export interface FuzzTarget {
  readonly name: string;
  readonly seeds: readonly Uint8Array[];
  /**
   * Reads a file to its end. @returns what it holds, as a text to compare, and whether the reader said that something
   * about it is not as it should be
   * @throws an error of the readers' own kinds for a file that is none
   */
  read(bytes: Uint8Array): { readonly holds: string; readonly said: boolean };
  /** Whether a cut at a place cannot be seen: behind a line end of a text that has no end of its own. */
  readonly invisible?: (whole: Uint8Array, cut: number) => boolean;
}

export interface FuzzResult {
  readonly target: string;
  readonly inputs: number;
  readonly refused: number;
  /** The longest, in seconds of processor time. */
  readonly longest: number;
  /** The most memory that arrays took, in MB. */
  readonly memory: number;
  /** What did not hold; empty when all is well. */
  readonly broken: readonly string[];
}

/** Errors that say what is wrong with a file; anything else is a mistake of the reader's. */
const ours = new Set([
  "FormatError",
  "DefinitionError",
  "NoRoom",
  "BudgetError",
  "TableError",
  "NoSuchColumn",
  "UnitError",
  "ZodError",
  "Error",
]);

/** Seconds of processor time for one input. */
export const LONGEST = 10;
const MOST_MEMORY = 512;

/**
 * Gives a reader damaged files: seeded mutations of whole ones, and, for each of these, cuts. It must not crash, hang,
 * take more memory than there is for it, nor pass over a cut in silence.
 *
 * @param begin told of every input before it is read, so that a hang can be named
 */
export function fuzz(
  target: FuzzTarget,
  inputs: number,
  seed: number,
  cuts = 60,
  begin: (what: string) => void = () => undefined,
): FuzzResult {
  const random = chance(seed);
  const broken: string[] = [];
  let refused = 0;
  let longest = 0;
  let memory = 0;
  const watch = (bytes: Uint8Array, what: string): { holds: string; said: boolean } | undefined => {
    begin(what);
    const start = threadSeconds();
    const before = process.memoryUsage().arrayBuffers;
    let found: { holds: string; said: boolean } | undefined;
    try {
      found = target.read(bytes);
    } catch (e) {
      refused++;
      const error = e as Error;
      if (!ours.has(error.name))
        broken.push(`${what}: ${error.name}: ${error.message}\n${(error.stack ?? "").split("\n")[1] ?? ""}`);
    }
    const took = threadSeconds() - start;
    const room = (process.memoryUsage().arrayBuffers - before) / 1e6;
    longest = Math.max(longest, took);
    memory = Math.max(memory, room);
    if (took > LONGEST) broken.push(`${what}: took ${took.toFixed(1)} s`);
    if (room > MOST_MEMORY) broken.push(`${what}: took ${room.toFixed(0)} MB`);
    return found;
  };
  target.seeds.forEach((s, k) => {
    const whole = target.read(s);
    if (whole.said) broken.push(`whole file ${k}: is said to be damaged`);
    cutEverywhere(target, s, whole.holds, cuts, random, (bytes, at) => watch(bytes, `file ${k} cut at ${at}`), broken);
  });
  for (let i = 0; i < inputs; i++) {
    const k = random(target.seeds.length);
    watch(mutate(target.seeds[k]!, random), `input ${i} (seed ${seed}, file ${k})`);
    if (broken.length > 20) break;
  }
  return { target: target.name, inputs, refused, longest, memory, broken };
}

function cutEverywhere(
  target: FuzzTarget,
  whole: Uint8Array,
  holds: string,
  cuts: number,
  random: Chance,
  watch: (bytes: Uint8Array, at: number) => { holds: string; said: boolean } | undefined,
  broken: string[],
): void {
  const all = whole.length <= cuts;
  for (let k = 0; k < Math.min(cuts, whole.length); k++) {
    // The last bytes are where a cut is hardest to see.
    const at = all ? k : k < cuts / 3 ? whole.length - 1 - k : random(whole.length);
    const found = watch(whole.slice(0, at), at);
    if (!found || found.said || found.holds === holds || target.invisible?.(whole, at)) continue;
    broken.push(`cut at ${at} of ${whole.length}: other values, and nothing is said`);
  }
}
