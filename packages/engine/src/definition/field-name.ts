/** Endings that a script may leave out; those that name other files come first. */
export const fieldCollections = [
  ".pvd",
  ".vtm",
  ".pvtu",
  ".pvtp",
  ".vtu.series",
  ".vtp.series",
  ".vtk.series",
  ".vti.series",
  ".vtr.series",
  ".vts.series",
  ".vtm.series",
  ".stl.series",
  ".ply.series",
];
const singles = [".vtu", ".vtp", ".vti", ".vtr", ".vts", ".vtk", ".stl", ".ply", ".obj"];
export const fieldEndings = [...fieldCollections, ...singles];

/**
 * A field's name without the ending of its file: what scripts call it.
 * @example fieldName("fields/hall.pvd") // "fields/hall"
 */
export const fieldName = (file: string): string => {
  const ending = fieldEndings.find((e) => file.toLowerCase().endsWith(e));
  return ending === undefined ? file : file.slice(0, -ending.length);
};
