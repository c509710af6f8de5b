import { MessageChannel, receiveMessageOnPort, Worker } from "node:worker_threads";
import { FormatError, openFile } from "../source.js";
import type { Chunk } from "./body.js";
import { detectDialect, type TextTableOptions } from "./dialect.js";
import { byteText } from "./encoding.js";
import { planChunkes, readSpan, readTextTable, wantedColumns, type Wanted } from "./reader.js";
import { assembleTable, defaultAxis, type Allocate, type TextTable } from "./assemble.js";
import type { ChunkSetup } from "./chunk.worker.js";

const SMALL = 24 * 1024 * 1024;

/**
 * Reads a large text table with several threads, chunk by chunk; the text is never held whole. The result is that
 * of {@link readTextTable}, however many threads there are. Blocks its own thread until all is read.
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
): TextTable {
  const source = openFile(file, shown, size);
  try {
    const plain = byteText(source, options.encoding);
    if (source.size < SMALL || threads < 2 || plain.source !== source)
      return readTextTable(source, names, options, allocate, passes);
    const dialect = detectDialect(source, options);
    const wanted = wantedColumns(dialect, names, options.axis ?? defaultAxis(dialect.columns));
    const spans = planChunkes(source, dialect);
    const counter = new SharedArrayBuffer(8);
    const count = new Int32Array(counter);
    const helpers = Array.from({ length: Math.min(threads, spans.length) - 1 }, () => {
      const { port1, port2 } = new MessageChannel();
      const setup: ChunkSetup = { file, size: source.size, dialect, spans, wanted, counter, port: port2 };
      const worker = new Worker(new URL("./chunk.worker.js", import.meta.url), {
        workerData: setup,
        transferList: [port2],
      });
      worker.unref();
      return { port: port1, worker };
    });
    const chunks = Array<Chunk | undefined>(spans.length).fill(undefined);
    for (let i = Atomics.add(count, 0, 1); i < spans.length; i = Atomics.add(count, 0, 1)) {
      chunks[i] = readSpan(source, dialect, spans[i]!, wanted);
      Atomics.add(count, 1, 1);
    }
    for (let done = Atomics.load(count, 1); done < spans.length; done = Atomics.load(count, 1))
      Atomics.wait(count, 1, done, 1000);
    for (const { port, worker } of helpers) {
      for (let m = receiveMessageOnPort(port); m; m = receiveMessageOnPort(port)) {
        const got = m.message as { index: number; chunk?: Chunk; failed?: string };
        if (got.failed !== undefined) throw new FormatError(shown, got.failed);
        chunks[got.index] = got.chunk;
      }
      port.close();
      void worker.terminate();
    }
    return assembleTable(shown, dialect, chunks as Chunk[], options, allocate, passes);
  } finally {
    source.close();
  }
}
