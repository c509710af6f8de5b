import fs from "node:fs";

/**
 * Random access to bytes: what every reader works on, so that it reads what it needs and no more.
 *
 * Reads are synchronous: readers run in workers, where waiting costs nobody anything.
 */
export interface ByteSource {
  /** The name to use in messages. */
  readonly name: string;
  readonly size: number;
  /** Up to `length` bytes from `offset`; fewer at the end of the source. */
  read(offset: number, length: number): Uint8Array;
}

/** A file that cannot be read as what it claims to be: where, what, and what to do about it. */
export class FormatError extends Error {
  override readonly name = "FormatError";
  constructor(
    readonly file: string,
    message: string,
    readonly place: { readonly line?: number; readonly offset?: number } = {},
    readonly hint?: string,
  ) {
    super(message);
  }
}

/** Bytes in memory as a source. */
export function bufferSource(name: string, bytes: Uint8Array): ByteSource {
  return {
    name,
    size: bytes.length,
    read: (offset, length) => bytes.subarray(offset, Math.min(bytes.length, offset + length)),
  };
}

/** A file opened for reading; close it when done. `size` is the length at opening: growth later is not seen. */
export interface FileSource extends ByteSource {
  close(): void;
}

/** Opens a file. @throws the system's error when it cannot be opened; FormatError when it is not a plain file */
export function openFile(path: string, name = path, size?: number): FileSource {
  const fd = fs.openSync(path, "r");
  const stat = fs.fstatSync(fd);
  if (!stat.isFile()) {
    fs.closeSync(fd);
    throw new FormatError(name, "this is not a plain file");
  }
  const length = Math.min(size ?? stat.size, stat.size);
  return {
    name,
    size: length,
    read(offset, wanted) {
      const buffer = Buffer.allocUnsafeSlow(Math.max(0, Math.min(wanted, length - offset)));
      let got = 0;
      while (got < buffer.length) {
        const n = fs.readSync(fd, buffer, got, buffer.length - got, offset + got);
        if (n === 0) break;
        got += n;
      }
      return buffer.subarray(0, got);
    },
    close: () => fs.closeSync(fd),
  };
}
