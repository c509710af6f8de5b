// What holds is found out at once: the runner's own `expect` makes some hundred functions and an error with its stack for
// each value, which takes longer than most that tests compare. It is asked where something does not hold, and for all else.
import { isDeepStrictEqual } from "node:util";

const own = globalThis.expect;
let equals;
let iterableEquality;
own.extend({
  takeEqualities() {
    ({ equals } = this);
    ({ iterableEquality } = this.utils);
    return { pass: true, message: () => "" };
  },
});
own(0).takeEqualities();

const number = (a, b) => typeof a === "number" && typeof b === "number";
/** When a matcher holds for sure. */
const holds = {
  toBe: Object.is,
  // Long arrays are compared in a hundredth of the time; what is not strictly equal may be it all the same.
  toEqual: (a, b) => isDeepStrictEqual(a, b) || equals(a, b, [iterableEquality]),
  toBeLessThan: (a, b) => number(a, b) && a < b,
  toBeLessThanOrEqual: (a, b) => number(a, b) && a <= b,
  toBeGreaterThan: (a, b) => number(a, b) && a > b,
  toBeGreaterThanOrEqual: (a, b) => number(a, b) && a >= b,
};

/** What every expectation can do; each is one of these with its value. */
const matchers = {};
const once = own(0);
for (const name of Object.keys(once)) {
  const sure = holds[name];
  const asked =
    typeof once[name] === "function"
      ? {
          value(...given) {
            if (!sure || given.length !== 1 || !sure(this.actual, given[0])) return own(this.actual)[name](...given);
            own.setState({ assertionCalls: own.getState().assertionCalls + 1 });
          },
        }
      : {
          get() {
            return own(this.actual)[name];
          },
        };
  Object.defineProperty(matchers, name, asked);
}

const expecting = (actual, ...more) =>
  more.length > 0 ? own(actual, ...more) : Object.create(matchers, { actual: { value: actual } });
export const expect = Object.assign(expecting, own);
