import { agreementTable } from "@oxtrum/core/statistics";
import { makeTable, numberColumn, numbers, stepOf } from "@oxtrum/core/tables";
import { tableValue } from "../arguments.js";
import { agreementOperation } from "./agreement-operation.js";

const none: number[] = [];

export const side = agreementOperation({
  name: "against.side",
  version: 2,
  gives: "table",
  fixed: {},
  methods: [
    {
      name: "side",
      doc: "Both side by side: axis, column, `reference`, `difference`, `percent`.",
      examples: ['t.against(air.get("100_080_none"), { y: "T_mean" }).side()'],
      returns: "Table<{ reference: Numbers; difference: Numbers; percent: Numbers } & Columns>",
    },
  ],
  execute: (found) => tableValue(found.side),
  foresee: ({ table, y, unit, axis }) => {
    const step = stepOf(unit);
    return tableValue(
      makeTable(
        [
          numberColumn(axis.name, axis.unit, none),
          { ...numbers(table, y), values: new Float64Array(0) },
          numberColumn("reference", unit, none),
          numberColumn("difference", step.unit, none),
          ...(step.ownZero ? [] : [numberColumn("percent", "%", none)]),
        ],
        { axis: axis.name },
      ),
    );
  },
});

export const summary = agreementOperation({
  name: "against.summary",
  version: 3,
  gives: "table",
  fixed: {},
  methods: [
    {
      name: "summary",
      doc: "One row per number.",
      examples: ['t.against(air.get("100_080_none"), { y: "T_mean" }).summary()'],
      returns: "Table<{ measure: Text; value: Numbers; unit: Text }>",
    },
  ],
  execute: (found) => tableValue(agreementTable(found)),
  foresee: () => tableValue(agreementTable(undefined)),
});
