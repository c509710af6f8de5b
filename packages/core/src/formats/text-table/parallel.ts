import { MessageChannel, receiveMessageOnPort, Worker, type MessagePort } from "node:worker_threads";
import { maybeStop } from "../../tables/interruption.js";
import { openFile } from "../source.js";
import type { Chunk } from "./body.js";
import { detectDialect, type TextTableOptions } from "./dialect.js";
import { byteText } from "./encoding.js";
import { planChunkes, readSpan, readTextTable, wantedColumns, type Wanted } from "./reader.js";
import { assembleTable, defaultAxis, type Allocate, type TextTable } from "./assemble.js";
import type { ChunkSetup, ReadChunk } from "./chunk.worker.js";

/** From how many bytes on a file is read by several threads, and how many each reads at a time. */
export interface Shares {
  readonly from: number;
  readonly each?: number;
}
const shares: Shares = { from: 24 * 1024 * 1024 };
/** How long is waited for a helper's next chunk before it is read here, in milliseconds. */
const PATIENCE = 2000;

/** A thread that reads chunks beside this one. */
interface Helper {
  readonly port: MessagePort;
  readonly worker: Worker;
}

function startHelper(setup: Omit<ChunkSetup, "port">): Helper {
  const { port1, port2 } = new MessageChannel();
  const worker = new Worker(new URL("./chunk.worker.js", import.meta.url), {
    workerData: { ...setup, port: port2 } satisfies ChunkSetup,
    transferList: [port2],
  });
  worker.unref();
  // What it cannot read is read here, and then said.
  worker.on("error", () => undefined);
  return { port: port1, worker };
}

/**
 * Reads a large text table with several threads, chunk by chunk; the text is never held whole. The result, or the
 * error, is that of {@link readTextTable}, however many threads there are, and whatever becomes of them. Blocks its own
 * thread until all is read.
 *
 * @param size the length up to which to read
 */
export function readLargeTextTable(
  file: string,
  shown: string,
  size: number,
  names?: Wanted,
  options: TextTableOptions = {},
  allocate?: Allocate,
  threads = 2,
  passes = true,
  { from, each }: Shares = shares,
): TextTable {
  const source = openFile(file, shown, size);
  try {
    const plain = byteText(source, options.encoding);
    if (source.size < from || threads < 2 || plain.source !== source)
      return readTextTable(source, names, options, allocate, passes);
    const dialect = detectDialect(source, options);
    const wanted = wantedColumns(dialect, names, options.axis ?? defaultAxis(dialect.columns));
    const spans = planChunkes(source, dialect, each);
    const counter = new SharedArrayBuffer(8);
    const setup = { file, size: source.size, dialect, spans, wanted, counter };
    const helpers = Array.from({ length: Math.min(threads, spans.length) - 1 }, () => startHelper(setup));
    try {
      const read = (k: number): Chunk => readSpan(source, dialect, spans[k]!, wanted);
      return assembleTable(shown, dialect, readShared(spans.length, read, counter, helpers), options, allocate, passes);
    } finally {
      for (const { port, worker } of helpers) {
        port.close();
        void worker.terminate();
      }
    }
  } finally {
    source.close();
  }
}

/** All chunks: this thread reads until each is taken, then waits for those of its helpers. */
function readShared(
  many: number,
  read: (k: number) => Chunk,
  counter: SharedArrayBuffer,
  helpers: readonly Helper[],
): Chunk[] {
  const count = new Int32Array(counter);
  const chunks = Array<Chunk | undefined>(many).fill(undefined);
  for (let k = Atomics.add(count, 0, 1); k < many; k = Atomics.add(count, 0, 1)) chunks[k] = read(k);
  for (;;) {
    const done = Atomics.load(count, 1);
    for (const { port } of helpers)
      for (let m = receiveMessageOnPort(port); m; m = receiveMessageOnPort(port)) {
        const got = m.message as ReadChunk;
        chunks[got.index] ??= got.chunk ?? read(got.index);
      }
    maybeStop();
    const missing = chunks.indexOf(undefined);
    if (missing < 0) return chunks as Chunk[];
    // A thread can end without a word, when memory runs out.
    if (Atomics.wait(count, 1, done, PATIENCE) === "timed-out") chunks[missing] = read(missing);
  }
}
