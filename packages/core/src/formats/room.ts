/**
 * The one gate that large arrays of readers pass before they are allocated. What a file claims is not believed: a
 * thread that works for a job counts it in the job's memory budget, any other has a limit of its own.
 */

/** More memory is asked for than there may be. */
export class NoRoom extends Error {
  override readonly name = "NoRoom";
}

/** Bytes of one array at most, where nobody counts. */
const MOST = 4e9;

const ownLimit = (bytes: number): void => {
  if (bytes > MOST)
    throw new NoRoom(`an array of ${Math.round(bytes / 1e6)} MB is needed, ${MOST / 1e6} MB may be used`);
};
let gate = ownLimit;

/**
 * Sets who counts the arrays of this thread; undefined for the limit of one array.
 * @param take throws when there is no room
 */
export function countRoom(take: ((bytes: number) => void) | undefined): void {
  gate = take ?? ownLimit;
}

/** Asks for room before an array is allocated. @throws an error of whoever counts, or {@link NoRoom} */
export function takeRoom(bytes: number): void {
  if (bytes > 65_536) gate(bytes);
}
