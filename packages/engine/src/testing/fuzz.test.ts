import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { expect, it } from "@jest/globals";
import { fuzz } from "@oxtrum/core/testing/fuzz";
import { engineTargets } from "./fuzz-targets.js";

it("damaged definitions, parameter files and archives do no harm", () => {
  const base = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-fuzz-"));
  try {
    for (const target of engineTargets(base)) {
      const r = fuzz(target, 100, 11);
      expect([target.name, r.broken]).toEqual([target.name, []]);
      // Parameter files that are wrong are a problem of their run, and refuse nothing.
      if (target.name !== "parameter files") expect(r.refused).toBeGreaterThan(20);
    }
  } finally {
    fs.rmSync(base, { recursive: true });
  }
});
