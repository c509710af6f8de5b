import { workerData, type MessagePort } from "node:worker_threads";
import { openFile } from "../source.js";
import type { Chunk } from "./body.js";
import type { Dialect } from "./dialect.js";
import { readSpan, type Span } from "./reader.js";

/**
 * What a helper thread is given: the file, how it is laid out, and the counter from which it takes its next chunk.
 */
export interface ChunkSetup {
  readonly file: string;
  readonly size: number;
  readonly dialect: Dialect;
  readonly spans: readonly Span[];
  readonly wanted: readonly boolean[];
  /** Word 0: the next chunk to take; word 1: how many helpers have read. */
  readonly counter: SharedArrayBuffer;
  readonly port: MessagePort;
}

/** A chunk that a helper has read; without it, one that could not be read. */
export interface ReadChunk {
  readonly index: number;
  readonly chunk?: Chunk;
}

const { file, size, dialect, spans, wanted, counter, port } = workerData as ChunkSetup;
const count = new Int32Array(counter);
const source = openFile(file, file, size);
for (let i = Atomics.add(count, 0, 1); i < spans.length; i = Atomics.add(count, 0, 1)) {
  try {
    const chunk = readSpan(source, dialect, spans[i]!, wanted);
    const buffers = new Set(chunk.columns.flatMap((c) => (c instanceof Float64Array ? [c.buffer as ArrayBuffer] : [])));
    port.postMessage({ index: i, chunk } satisfies ReadChunk, [...buffers]);
  } catch {
    // Whoever asked reads it again, and says what is wrong with it.
    port.postMessage({ index: i } satisfies ReadChunk);
  }
  Atomics.add(count, 1, 1);
  Atomics.notify(count, 1);
}
source.close();
