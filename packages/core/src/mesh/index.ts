export { cellType, cellTypes, type CellType } from "./cell-types.js";
export { facesOf, tetrahedraOf, trianglesOf } from "./decompose.js";
export { boundsOf, countCellTypes, loadMesh, meshDigest, type Mesh } from "./mesh.js";
export { boundaryFaces, cellMeasures, triangleArea } from "./measures.js";
export { interpolate, locate, type Located } from "./locate.js";
export { cutByPlane, type PlaneCut } from "./plane-cut.js";
