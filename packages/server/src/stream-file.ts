import fs from "node:fs";
import { Readable } from "node:stream";
import type { Context } from "hono";
import { problem } from "./store/problem.js";

/**
 * Sends a file piece by piece, as fast as it is taken.
 *
 * @param done called when it has been sent, or nobody wants it any more
 */
export function streamFile(c: Context, file: string, type: string, done: () => void = () => undefined): Response {
  let fd: number;
  let size: number;
  try {
    fd = fs.openSync(file, fs.constants.O_RDONLY | (fs.constants.O_NONBLOCK ?? 0));
    const stat = fs.fstatSync(fd);
    if (!stat.isFile()) {
      fs.closeSync(fd);
      throw problem(404, "That is not a file.");
    }
    ({ size } = stat);
  } catch (e) {
    done();
    throw e;
  }
  const stream = fs.createReadStream(file, { fd, autoClose: true, highWaterMark: 256 * 1024 });
  stream.on("close", done);
  c.header("content-type", type);
  c.header("content-length", String(size));
  return c.body(Readable.toWeb(stream) as ReadableStream);
}
