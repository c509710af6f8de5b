import fs from "node:fs";

/** The command as a process: its streams, Ctrl+C, and its exit code. */
const { version } = JSON.parse(fs.readFileSync(new URL("../package.json", import.meta.url), "utf8")) as {
  version: string;
};
const argv = process.argv.slice(2);

/** The rest is loaded only now: whoever asks for the version does not wait for it. */
async function run(): Promise<void> {
  const { main } = await import("./main.js");
  // Whoever reads the output may have seen enough: that is not an error.
  process.stdout.on("error", (e: NodeJS.ErrnoException) => process.exit(e.code === "EPIPE" ? 0 : 1));
  const print = (s: string): void => void process.stdout.write(`${s}\n`);
  const complain = (s: string): void => void process.stderr.write(`${s}\n`);
  const abort = new AbortController();
  for (const [signal, code] of [
    ["SIGINT", 130],
    ["SIGTERM", 143],
  ] as const)
    process.on(signal, () => {
      if (abort.signal.aborted) process.exit(code);
      if (signal === "SIGINT") complain("stopping; press Ctrl+C again to end at once");
      abort.abort();
    });
  const io = { print, complain, progress: process.stderr, env: process.env, signal: abort.signal };
  process.exitCode = await main(argv, io, version);
}

if (argv.length === 1 && (argv[0] === "--version" || argv[0] === "-V")) process.stdout.write(`${version}\n`);
else void run();
