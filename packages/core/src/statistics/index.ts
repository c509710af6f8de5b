/**
 * Statistics: tables go in, numbers and tables come out: within a run, along an axis (`signals`), of rows against
 * rows (`groups`), across runs, against a reference, fits and published laws. Every function says its weights, its
 * method and its source. May import tables.
 */
export * from "./descriptive.js";
export * from "./events.js";
export { covariance, meanInterval, numbered, percentiles, sum } from "./summaries.js";
export { amplitudes, amplitudesShape } from "./signals/amplitudes.js";
export { movingAverage, type MovingAverageOptions } from "./signals/moving-average.js";
export * from "./across.js";
export * from "./baseline.js";
export { fit, fitApplied, fitCurve, fitTable, fitTerms, type Fit, type FitRequest } from "./fits/fit.js";
export { studentQuantile } from "./fits/student.js";
export { convergenceTable, meshConvergence, type Convergence } from "./mesh-convergence.js";
export { dominantFrequency, spectrum, spectrumShape, type SpectrumOptions } from "./signals/spectrum.js";
export { smooth, type SmoothOptions } from "./signals/smooth.js";
export { lowpass, type LowpassOptions } from "./signals/lowpass.js";
export { detrend } from "./signals/detrend.js";
export { peaks, type PeakOptions } from "./signals/peaks.js";
export { phaseAverage, cycles, type CycleOptions } from "./signals/cycles.js";
export { correlatedMean, correlationLength, meanError, steadyFrom } from "./signals/steady.js";
export { crossCorrelation, moveAxis, timeShift, type ShiftOptions } from "./signals/shift.js";
export {
  describeColumns,
  edgesOf,
  exceedance,
  histogram,
  kurtosis,
  moments,
  running,
  skewness,
  type HistogramOptions,
} from "./moments.js";
export {
  bins,
  groupBy,
  groupStatistics,
  pivot,
  type GroupOptions,
  type GroupStatistic,
  type PivotOptions,
} from "./groups/group.js";
export { balance } from "./groups/balance.js";
export { outliers, rank, type OutlierRule } from "./groups/rank.js";
export { correlate, correlations } from "./groups/correlation.js";
export { effects, sensitivities } from "./groups/effects.js";
export { pairs } from "./groups/pairs.js";
export { together } from "./together.js";
export { against, agreementTable, type Agreement, type AgainstOptions } from "./against.js";
export { lawAt, lawColumn, lawCurve, lawNamed, laws, wallUnits, type Given } from "./laws/laws.js";
export { reduceFormula } from "./reduction-formula.js";
