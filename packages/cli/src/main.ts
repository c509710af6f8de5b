import { Command, CommanderError } from "commander";
import { plainText } from "@oxtrum/core/tables";
import type { CommandIo } from "./command-io.js";
import { addCheck } from "./commands/check.js";
import { addDiff } from "./commands/diff.js";
import { addRun } from "./commands/run.js";
import { addScan } from "./commands/scan.js";
import { addShow } from "./commands/show.js";
import { addVerify } from "./commands/verify.js";

const lines = (write: (s: string) => void) => (text: string) => text.replace(/\n$/, "").split("\n").forEach(write);

/** Every command, in the order of the help. A command is a file of its own, and a name here. */
const commands = [addScan, addShow, addCheck, addRun, addVerify, addDiff];

/**
 * Carries out a command line.
 *
 * @param argv the words behind the command's name
 * @returns the exit code: 0 all well, 1 an error, 2 runs were excluded, 3 a check failed or something changed
 * @example await main(["scan", "results"], io)
 */
export async function main(argv: readonly string[], given: Omit<CommandIo, "exit">, version: string): Promise<number> {
  let code = 0;
  const io: CommandIo = {
    ...given,
    // What files, scripts and names hold may be shown, but never steers the terminal.
    print: (s) => given.print(plainText(s)),
    complain: (s) => given.complain(plainText(s)),
    exit: (c) => void (code = c),
  };
  const program = new Command("oxtrum")
    .description("Runs scripts on folders of simulation results.")
    .version(version)
    .showHelpAfterError("Add --help for examples.")
    .configureOutput({ writeOut: lines(io.print), writeErr: lines(io.complain) })
    .exitOverride();
  for (const add of commands) add(program, io);
  try {
    await program.parseAsync([...argv], { from: "user" });
  } catch (e) {
    if (e instanceof CommanderError) return e.exitCode === 0 ? 0 : 1;
    io.complain(`oxtrum: ${(e as Error).message}`);
    return 1;
  }
  return code;
}
