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

/** The note on a text file whose last value may be cut; none where a line end or blank stands behind it. */
export function openEndNotes(source: ByteSource): readonly string[] {
  const last = source.size === 0 ? 10 : source.read(source.size - 1, 1)[0]!;
  return last === 10 || last === 13
    ? []
    : [`${source.name} has no line end behind its last value, which may be cut off`];
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
  readonly descriptor: number;
  close(): void;
}

/** Without waiting: opening a pipe that nobody writes to would never end. */
const READ = fs.constants.O_RDONLY | (fs.constants.O_NONBLOCK ?? 0);

/**
 * Opens a plain file for reading: its number and its size.
 * @throws the system's error; FormatError for pipes, devices, folders
 */
function openPlain(path: string, name: string): { fd: number; stat: fs.Stats } {
  const fd = fs.openSync(path, READ);
  try {
    const stat = fs.fstatSync(fd);
    if (!stat.isFile()) throw new FormatError(name, "this is not a plain file");
    return { fd, stat };
  } catch (e) {
    fs.closeSync(fd);
    throw e;
  }
}

/**
 * All bytes of a plain file. The only way in which this product reads small files whole: what is a pipe or a device, or
 * is larger than it may be, is refused before a byte is read.
 *
 * @param options.most bytes at most
 * @param options.name the name to use in messages
 * @throws the system's error when it cannot be opened; FormatError when it is not a plain file, or too large
 */
export function readPlainFile(path: string, options: { most: number; name?: string }): Buffer {
  const name = options.name ?? path;
  const { fd, stat } = openPlain(path, name);
  try {
    if (stat.size > options.most)
      throw new FormatError(
        name,
        `the file is larger than ${options.most >= 1e6 ? `${options.most / 1e6} MB` : `${options.most} bytes`}`,
      );
    const buffer = Buffer.allocUnsafeSlow(stat.size);
    let got = 0;
    while (got < buffer.length) {
      const n = fs.readSync(fd, buffer, got, buffer.length - got, got);
      if (n === 0) break;
      got += n;
    }
    return buffer.subarray(0, got);
  } finally {
    fs.closeSync(fd);
  }
}

/** Opens a file. @throws the system's error when it cannot be opened; FormatError when it is not a plain file */
export function openFile(path: string, name = path, size?: number): FileSource {
  const { fd, stat } = openPlain(path, name);
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
    descriptor: fd,
    close: () => fs.closeSync(fd),
  };
}
