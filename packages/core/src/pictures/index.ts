/**
 * Pictures of fields: views that sampling has made go in, pixels come out, drawn by the processor with no screen.
 * May import tables.
 */
export * from "./description.js";
export { basisOf, cameras } from "./project.js";
export { sceneOf } from "./scene.js";
export { contourPieces, joined } from "./contours.js";
export { streamlines } from "./streamlines.js";
export { paintPicture, type PictureSurface } from "./paint.js";
