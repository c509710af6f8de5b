import { spawn, type ChildProcess } from "node:child_process";
import { fileURLToPath } from "node:url";
import { bundled } from "../bundled.js";
import { diagnosticsSchema } from "./kept-checks.js";
import { READY, type AskedScript } from "./check-protocol.js";
import type { ScriptFiles } from "./library.js";
import type { ScriptDiagnostic } from "./messages.js";

/**
 * A process that checks one script. It starts from an image of memory that was made with the bundle, in which the
 * compiler is loaded and has read all that scripts are checked against.
 */
export class CheckProcess {
  readonly #child: ChildProcess;
  readonly #ended: Promise<readonly ScriptDiagnostic[] | undefined>;
  /** Resolves when it has started, or failed to. */
  readonly isReady: Promise<void>;

  private constructor(image: string) {
    // Options of this process are not those that the image was made with.
    const { NODE_OPTIONS: _, ...env } = process.env;
    this.#child = spawn(process.execPath, ["--snapshot-blob", image], { env, stdio: ["pipe", "pipe", "ignore"] });
    this.#ended = new Promise((done, failed) => {
      const said: Buffer[] = [];
      this.#child.stdout!.on("data", (d: Buffer) => said.push(d));
      this.#child.on("error", () => done(undefined));
      this.#child.on("close", (code, signal) => {
        const text = Buffer.concat(said).toString("utf8");
        if (!text.startsWith(READY)) return done(undefined);
        if (code !== 0) return failed(new Error(`its process has ended (${signal ?? `code ${code}`})`));
        try {
          done(diagnosticsSchema.parse(JSON.parse(text.slice(READY.length))));
        } catch (e) {
          failed(e as Error);
        }
      });
    });
    this.isReady = new Promise((done) => {
      this.#child.stdout!.once("data", () => done());
      this.#child.once("close", () => done());
    });
    // Who never asks does not hear how it ended; a process that has ended takes nothing any more.
    this.#ended.catch(() => undefined);
    this.#child.stdin!.on("error", () => undefined);
  }

  /** Starts one; undefined where there is no image. */
  static start(image = bundled("check.image")): CheckProcess | undefined {
    return image && new CheckProcess(fileURLToPath(image));
  }

  /**
   * What is to be said of a script; undefined where the image is not of this Node, so that another has to look.
   *
   * @throws Error where the process ended before it answered
   */
  check(files: ScriptFiles, types: Readonly<Record<string, string>>): Promise<readonly ScriptDiagnostic[] | undefined> {
    this.#child.stdin!.end(JSON.stringify({ files, types } satisfies AskedScript));
    return this.#ended;
  }

  stop(): void {
    this.#child.kill("SIGKILL");
  }
}
