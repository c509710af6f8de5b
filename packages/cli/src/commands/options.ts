import { InvalidArgumentError, Option, type Command } from "commander";

const collect = (value: string, list: string[]): string[] => [...list, value];

/** Examples below a command's help. */
export const example = (text: string): string =>
  `\nExamples:\n${text
    .trim()
    .split("\n")
    .map((l) => "  " + l.trim())
    .join("\n")}\n`;
/** A study and where it is. */
export const studyOption = (): Option =>
  new Option("--study <name=folder>", "a study and where it is; may be given several times")
    .argParser(collect)
    .default([] as string[], "none");

/** A whole number above zero. */
export const toInteger = (v: string): number => {
  const n = Number(v);
  if (!Number.isInteger(n) || n < 1) throw new Error(`"${v}" is not a whole number above zero`);
  return n;
};

/** A number, zero or more. */
export const toNumber = (text: string): number => {
  const x = Number(text);
  if (!(x >= 0)) throw new InvalidArgumentError("It has to be a number, zero or more.");
  return x;
};

/** Options of what runs a script. */
export const runLike = (c: Command): Command =>
  c
    .addOption(studyOption())
    .option("--set <name=value>", "sets an input of the script; may be given several times", collect, [] as string[])
    .option("--runs <selector>", "only these runs: ids, patterns, parameter=value; separated by commas")
    .option("--json", "as JSON");
