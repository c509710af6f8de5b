import { blockSummaries, type FieldAtTime } from "@oxtrum/core/sampling";
import { makeTable, numberColumn, numbersOf, textsOf, type Table, type UnitSymbol } from "@oxtrum/core/tables";
import type { FieldOperation } from "./field-operation.js";

/** The times of a field. */
export const times: FieldOperation = {
  name: "field.times",
  version: 3,
  steps: () => [],
  run: (_, { axis, unit, steps }) =>
    makeTable(
      [
        numberColumn(
          axis,
          unit,
          steps.map((s, k) => s ?? k),
        ),
      ],
      { axis },
    ),
};

/** A row per block or patch: how many cells it has, and the length, area and volume of those of each kind. */
function blocksTable(f: FieldAtTime, patches: boolean): Table {
  const power = (n: number): UnitSymbol => (f.lengthUnit === null || n === 1 ? f.lengthUnit : `${f.lengthUnit}^${n}`);
  const all = blockSummaries(f.blocks).filter((b) => !patches || b.dimension === 2);
  const sizes = all.map((b) => b.sizes());
  return makeTable([
    textsOf(all, "block", (b) => b.name),
    numbersOf(all, "dimension", "1", (b) => b.dimension),
    numbersOf(all, "cells", "1", (b) => b.cells),
    numbersOf(all, "points", "1", (b) => b.points),
    numbersOf(sizes, "length", power(1), (s) => s.length),
    numbersOf(sizes, "area", power(2), (s) => s.area),
    numbersOf(sizes, "volume", power(3), (s) => s.volume),
  ]);
}

/** The blocks of a field's mesh, or its patches alone. */
export const blocks: FieldOperation = {
  name: "field.blocks",
  version: 4,
  steps: () => [0],
  run: (a, source) => source.withStep(0, [], (f) => blocksTable(f, a.patches === true)),
};
