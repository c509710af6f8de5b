import { meshCollections, meshEndings } from "@oxtrum/core/formats";

/** Collections of times, and lists that give files their times. */
export const isTimeCollection = (file: string): boolean => /\.(?:pvd|series)$/i.test(file);

/** Files that name the parts or blocks of one state. */
export const isOfParts = (file: string): boolean =>
  !isTimeCollection(file) && meshCollections.some((e) => file.toLowerCase().endsWith(e));

/** Mesh files by their names: of one state each, whole or naming their parts. */
export const isMeshName = (file: string): boolean =>
  isOfParts(file) || meshEndings.some((e) => file.toLowerCase().endsWith(e));

/** Endings that a script may leave out; those that name other files come first. */
export const fieldCollections: readonly string[] = [
  ...meshCollections,
  ...[...meshEndings, ".vtm"].map((e) => `${e}.series`),
];
export const fieldEndings: readonly string[] = [...fieldCollections, ...meshEndings];

/**
 * A field's name without the ending of its file: what scripts call it.
 * @example fieldName("fields/hall.pvd") // "fields/hall"
 */
export const fieldName = (file: string): string => {
  const ending = fieldEndings.find((e) => file.toLowerCase().endsWith(e));
  return ending === undefined ? file : file.slice(0, -ending.length);
};
