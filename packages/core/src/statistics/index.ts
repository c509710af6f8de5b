export * from "./descriptive.js";
export * from "./events.js";
export * from "./across.js";
export * from "./baseline.js";
export { fit, fitApplied, fitCurve, fitTable, fitTerms, type Fit, type FitRequest } from "./fits/fit.js";
export { studentQuantile } from "./fits/student.js";
export { convergenceTable, meshConvergence, type Convergence } from "./mesh-convergence.js";
export { dominantFrequency, spectrum, spectrumShape, type SpectrumOptions } from "./signals/spectrum.js";
