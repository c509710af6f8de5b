/** No room, or a file larger than is allowed: writing something smaller may still work. */
export const isNoRoom = (e: unknown): boolean =>
  ["ENOSPC", "EDQUOT", "EFBIG"].includes((e as NodeJS.ErrnoException).code ?? "");

const causes: Readonly<Record<string, string>> = {
  ENOSPC: "the disk is full; free some space",
  EDQUOT: "the disk quota is used up; free some space",
  EFBIG: "the file would be larger than is allowed here",
  EROFS: "the disk is read-only; choose a folder that can be written to",
  EACCES: "there is no permission to write there; change it, or choose another folder",
  EPERM: "there is no permission to write there; change it, or choose another folder",
  ENOTDIR: "a part of the path is a file, not a folder",
  ENAMETOOLONG: "the name is too long for this disk",
  EIO: "the disk reports an error in reading or writing; check it",
  EMFILE: "too many files are open",
  ENOENT: "the folder is not there any more",
  ELOOP: "the path leads through links in a circle",
};

/** A system error in a sentence with its cure, without its stack or numbers. */
export function diskReason(e: unknown): string {
  const { code, message } = e as NodeJS.ErrnoException;
  return (code !== undefined && Object.hasOwn(causes, code) && causes[code]) || message;
}

/** Whether an error comes from the file system rather than from our own code. */
export const isDiskError = (e: unknown): boolean =>
  typeof (e as NodeJS.ErrnoException).syscall === "string" && typeof (e as NodeJS.ErrnoException).code === "string";
