import { alongVerb } from "./along.js";
import { amplitudesVerb } from "./amplitudes.js";
import { atVerb } from "./at.js";
import { balanceVerb } from "./balance.js";
import { binsVerb } from "./bins.js";
import { compareToVerb } from "./compare-to.js";
import { concatVerb } from "./concat.js";
import { convergeVerb } from "./converge.js";
import { correlationLengthVerb } from "./correlation-length.js";
import { correlationsVerb } from "./correlations.js";
import { countVerb } from "./count.js";
import { covarianceVerb } from "./covariance.js";
import { crossCorrelationVerb } from "./cross-correlation.js";
import { crossingsVerb } from "./crossings.js";
import { cumulativeVerb } from "./cumulative.js";
import { phaseAverageVerb } from "./phase-average.js";
import { cyclesVerb } from "./cycles.js";
import { derivativeVerb } from "./derivative.js";
import { deriveVerb } from "./derive.js";
import { describeVerb } from "./describe.js";
import { detrendVerb } from "./detrend.js";
import { dominantVerb } from "./dominant.js";
import { dropVerb } from "./drop.js";
import { effectsVerb } from "./effects.js";
import { firstVerb } from "./first.js";
import { governingVerb } from "./governing.js";
import { groupByVerb } from "./group-by.js";
import { headVerb } from "./head.js";
import { histogramVerb } from "./histogram.js";
import { integralVerb } from "./integral.js";
import { joinVerb } from "./join.js";
import { kurtosisVerb } from "./kurtosis.js";
import { labelVerb } from "./label.js";
import { lastVerb } from "./last.js";
import { lawVerb } from "./law.js";
import { lowpassVerb } from "./lowpass.js";
import { maxVerb } from "./max.js";
import { meanVerb } from "./mean.js";
import { meanErrorVerb } from "./mean-error.js";
import { meanIntervalVerb } from "./mean-interval.js";
import { minVerb } from "./min.js";
import { shiftAxisVerb } from "./shift-axis.js";
import { outliersVerb } from "./outliers.js";
import { pairsVerb } from "./pairs.js";
import { peaksVerb } from "./peaks.js";
import { percentileVerb } from "./percentile.js";
import { percentilesVerb } from "./percentiles.js";
import { pickVerb } from "./pick.js";
import { pivotVerb } from "./pivot.js";
import { rankVerb } from "./rank.js";
import { renameVerb } from "./rename.js";
import { resampleVerb } from "./resample.js";
import { resultantVerb } from "./resultant.js";
import { rmsVerb } from "./rms.js";
import { rowNumberVerb } from "./row-number.js";
import { runningVerb } from "./running.js";
import { sensitivitiesVerb } from "./sensitivities.js";
import { settlesVerb } from "./settles.js";
import { sinceVerb } from "./since.js";
import { skewnessVerb } from "./skewness.js";
import { smoothVerb } from "./smooth.js";
import { sortByVerb } from "./sort-by.js";
import { spectrumVerb } from "./spectrum.js";
import { stdVerb } from "./std.js";
import { steadyFromVerb } from "./steady-from.js";
import { sumVerb } from "./sum.js";
import { tailVerb } from "./tail.js";
import { timeAboveVerb } from "./time-above.js";
import { timeBelowVerb } from "./time-below.js";
import { timeShiftVerb } from "./time-shift.js";
import { toVerb } from "./to.js";
import { unitVerb } from "./unit.js";
import { valueVerb } from "./value.js";
import { wallUnitsVerb } from "./wall-units.js";
import { whereVerb } from "./where.js";
import { windowVerb } from "./window.js";
import type { TableVerb } from "../parameters/table-verb.js";

/**
 * Verbs of tables, a file each, in the order in which the Guide shows them. A verb's file is all that there is of it:
 * its method in scripts, its checks, its conversions of units, its place in the declarations and its golden value come
 * from there. Adding one takes its file and its line here.
 *
 * In: core's tables and statistics. Out: operations for the scheduler, forms for the sandbox, declarations for the
 * checker.
 */
export const tableVerbs: readonly TableVerb[] = [
  pickVerb,
  dropVerb,
  renameVerb,
  alongVerb,
  whereVerb,
  windowVerb,
  sortByVerb,
  deriveVerb,
  resultantVerb,
  toVerb,
  unitVerb,
  labelVerb,
  cumulativeVerb,
  derivativeVerb,
  resampleVerb,
  joinVerb,
  concatVerb,
  compareToVerb,
  crossingsVerb,
  spectrumVerb,
  amplitudesVerb,
  convergeVerb,
  smoothVerb,
  lowpassVerb,
  detrendVerb,
  runningVerb,
  peaksVerb,
  cyclesVerb,
  phaseAverageVerb,
  histogramVerb,
  describeVerb,
  sinceVerb,
  shiftAxisVerb,
  crossCorrelationVerb,
  timeShiftVerb,
  groupByVerb,
  binsVerb,
  pivotVerb,
  balanceVerb,
  rankVerb,
  governingVerb,
  outliersVerb,
  correlationsVerb,
  effectsVerb,
  sensitivitiesVerb,
  pairsVerb,
  lawVerb,
  wallUnitsVerb,
  headVerb,
  tailVerb,
  rowNumberVerb,
  maxVerb,
  minVerb,
  meanVerb,
  rmsVerb,
  stdVerb,
  sumVerb,
  covarianceVerb,
  meanIntervalVerb,
  percentileVerb,
  percentilesVerb,
  integralVerb,
  countVerb,
  firstVerb,
  lastVerb,
  atVerb,
  dominantVerb,
  skewnessVerb,
  kurtosisVerb,
  steadyFromVerb,
  meanErrorVerb,
  correlationLengthVerb,
  timeAboveVerb,
  timeBelowVerb,
  valueVerb,
  settlesVerb,
];
