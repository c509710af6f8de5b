// What tests import from "@jest/globals". The runner has no limit of its own for a test that never ends, and does not
// count what was compared.
import { expect } from "./expect.mjs";

const { describe, beforeAll, afterAll, beforeEach, afterEach, jest } = globalThis;
const LIMIT = 180_000;

/** A test that fails when it has not ended in time, or has not compared what it said it would (`expect.assertions`). */
function limited(run, limit = LIMIT) {
  if (typeof run !== "function") return run;
  return async (...given) => {
    let timer;
    const late = new Promise((_, fail) => {
      timer = setTimeout(() => fail(new Error(`the test has not ended after ${limit / 1000} s`)), limit);
    });
    expect.extractExpectedAssertionsErrors();
    try {
      await Promise.race([run(...given), late]);
      const [missed] = expect.extractExpectedAssertionsErrors();
      if (missed) throw missed.error;
    } finally {
      clearTimeout(timer);
    }
  };
}

const withLimit = (plain) =>
  Object.assign((name, run, limit) => plain(name, limited(run, limit)), plain, {
    each:
      (...table) =>
      (name, run, limit) =>
        plain.each(...table)(name, limited(run, limit)),
  });

export const it = Object.assign(withLimit(globalThis.it), { only: withLimit(globalThis.it.only) });
export const test = it;
export { describe, expect, beforeAll, afterAll, beforeEach, afterEach, jest };
