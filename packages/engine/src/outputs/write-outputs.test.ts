import { describe, expect, it } from "@jest/globals";
import { emitWords } from "../verbs/emit/index.js";
import { outputKindOf } from "./kinds/index.js";
import { namingSchema } from "../sandbox/naming-schema.js";
import { FileNames } from "./naming.js";
import { makeOutput } from "./write-outputs.js";
import type { Outcome } from "../verbs/values.js";

const values: Readonly<Record<string, Outcome>> = {
  table: { kind: "table", table: { columns: [], rows: 0, notes: [] } },
  quantity: { kind: "quantity", quantity: { value: 3, unit: "K" } },
  check: { kind: "check", check: { verdict: "passed", value: { value: 3, unit: "K" }, limit: "below 4 K" } },
};
const made = async (kind: string, value: Outcome | undefined): Promise<string> => {
  const { record } = await makeOutput(
    { kind, name: "a", node: 0, options: { text: "words" }, line: 1 },
    value,
    "a.ts",
    undefined,
  );
  return record.failed ?? "made";
};

describe("outputs", () => {
  it("have a kind for every word but the report, which is made of all of them", () => {
    const without = emitWords.map((w) => w.name).filter((n) => !outputKindOf(n));
    expect(without).toEqual(["report"]);
  });
  it("are made of the kind of value that they are for, and say so of any other", async () => {
    expect(await made("table", values["table"])).toBe("made");
    expect(await made("value", values["quantity"])).toBe("made");
    expect(await made("check", values["check"])).toBe("made");
    expect(await made("text", undefined)).toBe("made");
    expect(await made("table", values["quantity"])).toBe("a table is needed, not a quantity");
    expect(await made("chart", values["table"])).toBe("a chart is needed, not a table");
    expect(await made("value", values["check"])).toBe("a quantity is needed, not a check");
    expect(await made("table", undefined)).toBe("not computed");
    expect(await made("table", { kind: "failure", reason: "the file is empty" })).toBe("the file is empty");
    expect(await made("photo", values["table"])).toBe('there is no output of kind "photo"');
  });
  it("that cannot be drawn fail alone: of two formats that cannot, none is left for the process to stumble on", async () => {
    const left: unknown[] = [];
    const keep = (e: unknown): void => void left.push(e);
    process.on("unhandledRejection", keep);
    const values = new Proxy([1], {
      get: () => {
        throw new Error("broken cells");
      },
    });
    const axis = { title: "x", unit: "s", scale: "linear" as const };
    const heat = { x: [0], y: [0], values, title: "T", unit: "K", min: 0, max: 1 };
    const chart = { kind: "chart" as const, chart: { x: axis, y: axis, series: [], heat } };
    const asked = { name: "a", line: 1, options: { formats: ["svg", "png"] }, value: chart };
    const names = new FileNames(namingSchema.parse({}), ["small"], () => undefined);
    await expect(async () => outputKindOf("chart")!.files(asked, names, new Map())).rejects.toThrow("broken cells");
    await new Promise((later) => setTimeout(later, 20));
    process.off("unhandledRejection", keep);
    expect(left).toEqual([]);
  });
});
