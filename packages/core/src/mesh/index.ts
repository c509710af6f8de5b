/**
 * Meshes: cell types with their shape functions, where places lie, measures, faces, cuts, gradients, carrying over
 * between points and cells. Arrays of points and cells go in, arrays come out; no fields, no units. May import
 * tables and the shapes of grids that formats describe.
 */
export { cellType, cellTypes, type CellType } from "./cell-types.js";
export { facesOf, ringOf, tetrahedraOf, trianglesOf } from "./decompose.js";
export { boundsOf, countCellTypes, loadMesh, meshDigest, type Mesh } from "./mesh.js";
export { boundaryFaces } from "./boundary.js";
export { cellMeasures, triangleArea } from "./measures.js";
export { cellGradients, cellsOfPoints, type Gradient } from "./gradient.js";
export { cellsToPoints, pointsToCells } from "./transfer.js";
export { interpolate, locate, type Located } from "./locate.js";
export { cutByPlane, isoSurface, type PlaneCut } from "./plane-cut.js";
export { openEdges, Surface, surfaceOf } from "./outer-surface.js";
