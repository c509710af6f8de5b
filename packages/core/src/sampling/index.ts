export { Block, componentNames, namedFields, type NamedField } from "./field-set.js";
export { reduceSite, type Reduction, type Reductions } from "./reduce.js";
export { cornersOf, piecesOf, sampleSite, type DerivedField, type FieldAtTime } from "./sample.js";
export { placesOf, stationsOf, type Axis, type Place, type Site } from "./sites.js";
