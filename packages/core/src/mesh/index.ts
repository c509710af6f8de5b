export { cellType, cellTypes, type CellType } from "./cell-types.js";
export { facesOf, ringOf, tetrahedraOf, trianglesOf } from "./decompose.js";
export { boundsOf, countCellTypes, loadMesh, meshDigest, type Mesh } from "./mesh.js";
export { boundaryFaces } from "./boundary.js";
export { cellMeasures, triangleArea } from "./measures.js";
export { cellGradients, cellsOfPoints, type Gradient } from "./gradient.js";
export { cellsToPoints, pointsToCells } from "./transfer.js";
export { interpolate, locate, type Located } from "./locate.js";
export { cutByPlane, isoSurface, type PlaneCut } from "./plane-cut.js";
