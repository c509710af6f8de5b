import { describe, expect, it } from "@jest/globals";
import { sliceRows } from "@oxtrum/core/tables";
import { packValue } from "../store/serialize.js";
import { sha256 } from "../store/keys.js";
import { carryOut } from "../scheduler/evaluate.js";
import { calls } from "../testing/operation-calls.js";
import { operations } from "./registry.js";
import type { Outcome } from "./values.js";

/**
 * What every operation gives for fixed inputs, as a digest, by its name and version. Kept results of other machines and
 * of last year are found by name and version: whoever changes what an operation gives has to raise its version, and
 * then writes the new digest here.
 */
const golden: Readonly<Record<string, string>> = {
  "table.pick@1": "214d96e5f1526b1e",
  "table.drop@1": "948c241a4f9ba0cc",
  "table.rename@1": "d9fed2af29fb63c4",
  "table.along@1": "c1c1d8af1fdbb96c",
  "table.where@2": "5828dac3e6b3ae5f",
  "table.window@3": "3802b270b9562d9d",
  "table.sortBy@1": "9e91b093ce0f1f6a",
  "table.derive@2": "c268a2aae9f9b12f",
  "table.to@1": "c210ec83b2b208b5",
  "table.unit@1": "ce0697d8a330e04c",
  "table.label@1": "a9108aa7986b9376",
  "table.cumulative@3": "807506fbccd4824c",
  "table.derivative@2": "5afbe3d58eff681b",
  "table.resample@1": "7a05652bd35547d3",
  "table.join@1": "d31cd233d4f2ddad",
  "table.concat@1": "d76fdc7770d7bbff",
  "table.head@1": "531d0bd7ab26c036",
  "table.compareTo@3": "c37637a389b8f4f6",
  "table.crossings@2": "060441bb8ee8bb92",
  "table.spectrum@3": "3bb71b9efea40079",
  "table.dominant@2": "d2bdbde03c6e1d30",
  "table.converge@2": "310bc5d43ea9cb4d",
  "table.max@2": "ef7f36d4ae3b58ee",
  "table.min@2": "72a5cc0d46bf9987",
  "table.mean@3": "850d7727fd4d62e5",
  "table.sum@1": "e63c99976bef4e4b",
  "table.covariance@1": "83f316937d6ffb24",
  "table.meanInterval@1": "d7d7960363fd7462",
  "table.tail@1": "5dd160c2cc3bf24f",
  "table.rowNumber@1": "dac82fe836a0491e",
  "table.percentiles@1": "e561cd025e7cd0bb",
  "table.amplitudes@1": "6da6a38227ad5e46",
  "table.rms@3": "9d8de763d9b5422a",
  "table.std@4": "b8d26e10ec8e6c10",
  "table.percentile@2": "2759241b849b61fc",
  "table.integral@3": "6329d60559cd331a",
  "table.count@1": "61fe5b4d1baa37a1",
  "table.at@2": "de5adfc3f87864b4",
  "table.settles@2": "66324e9cf369b512",
  "fit.terms@4": "9ccac7ad8d733684",
  "fit.term@2": "1680ddc3ddceb74d",
  "fit.quality@3": "1138c0618839fddd",
  "fit.at@1": "afb831a24e2394a0",
  "fit.curve@1": "6068834aa0f24a9f",
  "fit.applied@2": "c632775af1cf7d02",
  "quantity.at@1": "401e779c0cfdc1be",
  "quantity.in@1": "82cc8d17ff9c434e",
  "quantity.power@1": "9fe6cc5df45edbe9",
  "quantity.abs@1": "050afedd981ad23b",
  "runs.rows@3": "d757f4bc9a15461a",
  "runs.stack@3": "d3f6f7c0b0b67865",
  "runs.wide@4": "13f91c73be685eca",
  "runs.across@8": "8e5a8b84de0c21f9",
  "check@2": "b7a2a5f257d3bf4a",
  "rule.judge@2": "a471f80eba15d70c",
  "rule.verdicts@1": "c7ab1b625216e89d",
  "table.smooth@2": "5569ecff0c4fc4f9",
  "table.lowpass@1": "914b269c14beb406",
  "table.detrend@2": "ca14cb342ef511c6",
  "table.running@1": "6b793fcf9d5bc551",
  "table.peaks@1": "526b805a132f09c9",
  "table.cycles@1": "587b97147807b729",
  "table.cycleMean@1": "9a4eebb225eca92f",
  "table.histogram@2": "2733842b6f9efbc9",
  "table.describe@3": "397065f067cecf86",
  "table.since@2": "7f2af8495645230c",
  "table.move@1": "1ceeed995daa4205",
  "table.crossCorrelation@1": "de72c03c7884cb37",
  "table.timeShift@2": "75149dc70f141139",
  "table.skewness@2": "7ce50a7cc2fb6228",
  "table.kurtosis@2": "00779d84a123706d",
  "table.steadyFrom@1": "1e992b9c502a8b0a",
  "table.meanError@1": "9ae180fa0fdce292",
  "table.correlationLength@1": "55276aa32e7b6040",
  "table.timeAbove@2": "6134c8486b764338",
  "table.timeBelow@2": "61f94b17108fd193",
  "table.value@5": "3ccfc2687e46d9ec",
  "table.groupBy@2": "a0ff61ea3bbd817a",
  "table.bins@2": "a2cd262f068a9322",
  "table.pivot@2": "4abf35b5ef1c6ffd",
  "table.balance@1": "5a6c45a7217996d5",
  "table.rank@1": "2d4d6a223c7aa36b",
  "table.governing@1": "c2feb44b7f1ce925",
  "table.outliers@2": "b7ea32d02b245222",
  "table.correlations@1": "47d4b289c391a65c",
  "table.effects@2": "fa6a6561a05f817f",
  "table.sensitivities@1": "8acba7209424540a",
  "table.pairs@2": "fd9ad9df8f887d25",
  "against.summary@3": "c9bd23ca838a2f93",
  "against.side@2": "4b6aaafa7df47c16",
  "against.measure@2": "ca3c4c40fe31d79b",
  "law.at@1": "0e6edc8d95f3b489",
  "law.curve@1": "bb9694a5f080e374",
  "table.law@1": "b5b204116b157449",
  "table.wallUnits@1": "aeac83c1496faddd",
  "quantity.unit@1": "e1beb14c56f7187b",
  "quantity.formula@1": "d7f077453e189fcb",
  "together@1": "982eaa186106a5de",
};

const digestOf = ([op, args, ...inputs]: (typeof calls)[number]): string => {
  const o = carryOut(op, args, inputs);
  return o.kind === "failure" ? `failed: ${o.reason}` : sha256(packValue(o)).slice(0, 16);
};

/** Names, kinds and units of what an operation gives; a unit of null is one that is only known later. */
function schemaOf(o: Outcome): unknown {
  if (o.kind === "table")
    return [o.table.columns.map((c) => [c.name, c.kind, c.kind === "number" ? c.unit : ""]), o.table.axis];
  return o.kind === "quantity" ? ["quantity", o.quantity.unit] : o.kind === "failure" ? o.reason : o.kind;
}

describe("operations give what they gave", () => {
  it.each(calls.map((c) => [`${c[0]}@${operations.get(c[0])?.version}`, c] as const))("%s", (key, call) => {
    expect([key, digestOf(call)]).toEqual([key, golden[key]]);
  });
  it.each(calls.filter(([op]) => !op.startsWith("rule.")).map((c) => [c[0], c] as const))(
    "%s: what is foreseen of its columns is what comes out",
    (_, [op, args, ...inputs]) => {
      const operation = operations.get(op)!;
      const empty = inputs.map((i): Outcome =>
        i.kind === "table"
          ? { ...i, table: { ...sliceRows(i.table, 0, 0), notes: [] } }
          : i.kind === "quantity"
            ? { ...i, quantity: { value: Number.NaN, unit: i.quantity.unit } }
            : i,
      );
      const foreseen = (operation.infer ?? operation.run).call(operation, operation.args.parse(args), empty);
      if (foreseen !== undefined) expect(schemaOf(foreseen)).toEqual(schemaOf(carryOut(op, args, inputs)));
    },
  );
  it("all of them, but for charts and pictures, which have tests of their own, and sums and products, which are exact", () => {
    const tested = new Set(calls.map((c) => c[0]));
    const left = [...operations.keys()].filter((o) => !tested.has(o)).sort();
    expect(left).toEqual(["chart", "constant", "picture", "quantity.combine"]);
  });
});
