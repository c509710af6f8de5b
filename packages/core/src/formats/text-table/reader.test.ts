import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { bufferSource, describeTextTable, FormatError, readTextTable, type TextTableOptions } from "../index.js";
import { assembleTable } from "./assemble.js";
import { planChunkes, readSpan } from "./reader.js";
import { detectDialect } from "./dialect.js";
import { parseField } from "./decimal.js";

const source = (text: string | Uint8Array) =>
  bufferSource("test.dat", typeof text === "string" ? new TextEncoder().encode(text) : text);
const read = (text: string | Uint8Array, options?: TextTableOptions) => {
  const { table, skipped } = readTextTable(source(text), undefined, options);
  const values = Object.fromEntries(table.columns.map((c) => [c.name, [...c.values]]));
  const units = Object.fromEntries(table.columns.map((c) => [c.name, c.kind === "number" ? c.unit : "words"]));
  return {
    values,
    units,
    skipped,
    notes: table.notes,
    conditions: (table.conditions ?? []).map((c) => c.kind),
    rows: table.rows,
    axis: table.axis,
  };
};

describe("text tables as they come", () => {
  it("comma, units in brackets, a blank cell", () => {
    const r = read("time [s],T_mean [K],q (W/m2)\n0,273.15,1\n1,274,\n");
    expect(r.units).toEqual({ time: "s", T_mean: "K", q: "W/m^2" });
    expect(r.values["q"]).toEqual([1, NaN]);
    expect(r.skipped).toEqual([]);
    expect(r.axis).toBe("time");
  });
  it("on memory of their own: a column that is kept or sent holds no more than its rows", () => {
    const text = `time [s],T [K]\n${"# a long comment\n".repeat(200)}0,1\n1,2\n2,3\n`;
    const { table } = readTextTable(bufferSource("t.csv", Buffer.from(text)));
    for (const c of table.columns) expect((c.values as Float64Array).buffer.byteLength).toBe(24);
  });
  it("units in heads, however they are written; unknown ones are said", () => {
    const r = read(
      "time/s,T [C],T2 [deg C],T3 (°C),phi [degCA],p/kPa,pa [barA],x/L,Nu/Re,q [C],v " +
        "[furlong]\n0,1,2,3,4,5,6,7,8,9,10\n1,1,2,3,4,5,6,7,8,9,10\n",
    );
    expect(r.units).toEqual({
      time: "s",
      T: "degC",
      T2: "degC",
      T3: "degC",
      phi: "deg",
      p: "kPa",
      pa: "bar",
      "x/L": null,
      "Nu/Re": null,
      q: "C",
      "v [furlong]": null,
    });
    expect(r.notes.join()).toMatch(/"v \[furlong\]": "furlong" is not a known unit; the unit of the column is unknown/);
    const row = read("t,T,p\n[s],[C],[blub]\n0,1,2\n1,2,3\n");
    expect(row.units).toEqual({ t: "s", T: "degC", p: null });
    expect(row.notes.join()).toMatch(/"p": "\[blub\]" in line 2 is not a known unit/);
  });
  it("semicolon with decimal comma, CRLF, a stray bracket", () => {
    const r = read("Zeit (s);T (°C)\r\n0,5;1,25\r\n1,5;2,5\r\n}\r\n");
    expect(r.values).toEqual({ Zeit: [0.5, 1.5], T: [1.25, 2.5] });
    expect(r.units["T"]).toBe("degC");
    expect(r.skipped).toEqual([{ line: 4, reason: '1 field where 2 are expected: "}"' }]);
  });
  it("prose, comment header, a row of units, a footer", () => {
    const r = read(
      "Solver 4.2 of the hall\nrun on 3 workers\n# time  T1   T2\n#  s    K    degC\n 0.0 1 2\n 1.0 3 4\nend of output\n",
    );
    expect(r.values).toEqual({ time: [0, 1], T1: [1, 3], T2: [2, 4] });
    expect(r.units).toEqual({ time: "s", T1: "K", T2: "degC" });
    expect(r.skipped.map((s) => s.line)).toEqual([1, 2, 7]);
    expect(r.notes.join()).toMatch(/units are read from line 4/);
  });
  it("names with their units in tokens of their own", () => {
    expect(read("Time (s)  T mean (K)\n0 1\n1 2\n").units).toEqual({ Time: "s", "T mean": "K" });
  });
  it("a header repeated after a restart: what is run again is dropped", () => {
    const r = read("time T\n0 1\n1 2\n2 3\n3 4\ntime T\n2 30\n3 40\n4 50\n");
    expect(r.values).toEqual({ time: [0, 1, 2, 3, 4], T: [1, 2, 30, 40, 50] });
    expect(r.notes.join()).toMatch(/steps back to 2 after a repeated header; 2 earlier rows/);
  });
  it("a step back without a header: passes are numbered, nothing is dropped", () => {
    const r = read("time T\n0 1\n1 2\n2 3\n1 20\n2 30\n3 40\n");
    expect(r.values["pass"]).toEqual([1, 1, 1, 2, 2, 2]);
    expect(read("time T\n0 1\n1 2\n2 3\n1 20\n2 30\n3 40\n", { restart: "keep-later" }).values["T"]).toEqual([
      1, 20, 30, 40,
    ]);
  });
  it("x from far to near stays as it is", () => {
    const r = read("x [m],y\n3,1\n2,2\n1,3\n");
    expect(r.values["x"]).toEqual([3, 2, 1]);
    expect(r.values["pass"]).toBeUndefined();
  });
  it("Fortran exponents, NaN, Inf, stars", () => {
    const r = read("a b c d\n1.0D+02 2.5-03 NaN 1\n-1.5d0 Inf **** 2\n1 2 3 4\n");
    expect(r.values["a"]).toEqual([100, -1.5, 1]);
    expect(r.values["b"]).toEqual([0.0025, Infinity, 2]);
    expect(r.values["c"]).toEqual([NaN, NaN, 3]);
  });
  it("quoted names with delimiters in them, the same name twice", () => {
    const r = read('"T, mean","T, mean"\n1,2\n3,4\n');
    expect(Object.keys(r.values)).toEqual(["T, mean", "T, mean#2"]);
    expect(r.notes.join()).toMatch(/stands more than once/);
  });
  it("a last line that is still being written", () => {
    const r = read("t,a,b\n0,1,2\n1,3,4\n2,5");
    expect(r.rows).toBe(2);
    expect(r.skipped[0]).toEqual({
      line: 4,
      reason: "cut off: 2 of 3 fields, the last line is still being written",
      damaged: true,
    });
    expect(r.conditions).toEqual(["cut off"]);
    expect(describeTextTable(source("t,a,b\n0,1,2\n1,3,4\n2,5")).cutOff).toBe(true);
  });
  it("marks of order and other encodings", () => {
    expect(read(new Uint8Array([0xef, 0xbb, 0xbf, ...new TextEncoder().encode("t;T\n1;2\n")])).values).toEqual({
      t: [1],
      T: [2],
    });
    const wide = new Uint8Array(Buffer.from("\ufefft;°x\n1;2\n3;4\n", "utf16le"));
    expect(read(wide).values).toEqual({ t: [1, 3], "°x": [2, 4] });
    expect(Object.keys(read(new Uint8Array(Buffer.from("t;T (\xb0C)\n1;2\n3;4\n", "latin1"))).values)).toEqual([
      "t",
      "T",
    ]);
  });
  it("dates", () => {
    const r = read("date,T\n2026-01-01 00:00:00,1\n2026-01-01 01:00:00,2\n");
    expect((r.values["date"]![1]! as number) - (r.values["date"]![0] as number)).toBe(3600);
    expect(r.units["date"]).toBe("s");
  });
  it("a footer of as many words as there are columns does not make words of the numbers", () => {
    const r = read(
      "  Time  Pressure  Velocity\n  [s]  [Pa]  [m/s]\n 0.0 1.0D+05 1.5-103\n 0.1 1.1D+05 2.0\n total: 3 rows\n",
    );
    expect(r.values["Time"]).toEqual([0, 0.1]);
    expect(r.values["Velocity"]).toEqual([1.5e-103, 2]);
  });
  it("bars on both sides of a row", () => {
    const r = read("| t [s] | p |\n|-------|---|\n| 0 | 1 |\n| 1 | 2 |\n");
    expect(r.values).toEqual({ t: [0, 1], p: [1, 2] });
  });
  it("words beside numbers", () => {
    expect(read("run,fan [%],curtain\na_1,50,none\nb_2,75,strip\n").values["curtain"]).toEqual(["none", "strip"]);
  });
  it("a cell that is not a number: the row stays, the cell is missing, a note says where", () => {
    const r = read("t,a,b\n0,1,2\n1,oops,4\n2,5,6\n");
    expect(r.values["a"]).toEqual([1, NaN, 5]);
    expect(r.conditions).toEqual(["missing cells"]);
  });
  it("a sentence with a number in it is text, a row that lost a part is damaged", () => {
    const lines = (l: string): string[] => read(`t a b c\n0 1 2 3\n${l}\n1 4 5 6\n`).conditions;
    expect(lines("restart from checkpoint 900")).toEqual(["text skipped"]);
    expect(lines("end of probe output, 374 records")).toEqual(["text skipped"]);
    expect(lines("0.5 1.5")).toEqual(["damaged rows"]);
    expect(lines("0.5 lost its way here")).toEqual(["damaged rows"]);
    expect(lines("x 3 4")).toEqual(["damaged rows"]);
    expect(lines("x *** y")).toEqual(["damaged rows"]);
    expect(read("t,a,b,c\n0,1,2,3\nwords and so on,7\n1,4,5,6\n").conditions).toEqual(["damaged rows"]);
  });
  it("an exponent without its letter needs a point: ranges and months are words", () => {
    const r = read("size,month,b\n5-10,2020-01,1.5-103\n10-20,2020-02,-2.0+05\n20-50,2020-03,7\n");
    expect(r.units).toMatchObject({ size: "words", b: null });
    expect(r.values["size"]).toEqual(["5-10", "10-20", "20-50"]);
    expect(r.values["b"]).toEqual([1.5e-103, -2e5, 7]);
    expect(read("t,a,b\n0,1,1\n1,5-10,1\n2,3,1\n").values["a"]).toEqual([1, NaN, 3]);
  });
  it("400 columns, no header", () => {
    const row = Array.from({ length: 400 }, (_, i) => i).join("\t");
    const r = read(`${row}\n${row}\n`);
    expect(Object.keys(r.values)).toHaveLength(400);
    expect(r.values["c400"]).toEqual([399, 399]);
  });
  it("choices override what is found", () => {
    const r = read("a;b\n1;2\n3;4\n", { names: ["x", "y"], units: { y: "K" } });
    expect(r.units).toEqual({ x: null, y: "K" });
    expect(read("1,2\n3,4\n", { header: 0 }).rows).toBe(2);
  });
  it("says what is wrong with a file that holds no table", () => {
    expect(() => read("")).toThrow(/the file is empty/);
    expect(() => read("just some words\nand more of them\n")).toThrow(FormatError);
    expect(() => readTextTable(source("t,a\n1,2\n"), ["b"])).toThrow(/no column "b"/);
  });
  it("property: never crashes, hangs or invents rows on arbitrary bytes", () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), (bytes) => {
        try {
          const { table } = readTextTable(source(bytes));
          expect(table.rows).toBeLessThanOrEqual(bytes.length);
        } catch (e) {
          expect(e).toBeInstanceOf(FormatError);
        }
      }),
      { numRuns: 300 },
    );
  });
});

describe("numbers are rounded correctly", () => {
  const bytes = (s: string): Uint8Array => new TextEncoder().encode(s);
  it("property: all 17 digits of any double", () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), fc.integer({ min: 1, max: 21 }), (x, digits) => {
        for (const text of [x.toExponential(Math.min(20, digits - 1)), String(x), x.toPrecision(digits)])
          expect(Object.is(parseField(bytes(text), 0, text.length, false), Number(text))).toBe(true);
      }),
      { numRuns: 3000 },
    );
  });
  // Ties and near-ties: from V. Paxson, "A Program for Testing IEEE Decimal–Binary Conversion" (1991), tables 3 and 4.
  it.each([
    "5e-324",
    "2.2250738585072011e-308",
    "1.7976931348623157e308",
    "9007199254740993",
    "9214843084008499e-2",
    "5e125",
    "69e267",
    "999e-026",
    "7861e-034",
    "75569e-254",
    "928609e-261",
    "9210917e80",
    "84863171e114",
    "653777767e273",
    "5232604057e-298",
    "27235667517e-109",
    "653532977297e-123",
    "3142213164987e-294",
    "46202199371337e-72",
    "231010996856685e-73",
    "9324754620109615e212",
    "78459735791271921e49",
    "272104041512242479e200",
  ])("%s", (text) => expect(parseField(bytes(text), 0, text.length, false)).toBe(Number(text)));
});

describe("chunks", () => {
  it("property: a table read in pieces of any size is the table read whole", () => {
    const rows = Array.from({ length: 60 }, (_, i) =>
      i % 17 === 5 ? "# note" : `${i},${Math.sin(i)},${i % 11 === 0 ? "" : i * 1e3}`,
    );
    const ends = fc.constantFrom("\n", "", "\n60,0.12,60000", "\n60,0.1234567890123456,60000");
    fc.assert(
      fc.property(fc.integer({ min: 3, max: 400 }), ends, (size, end) => {
        const s = source(`t,a,b\n${rows.join("\n")}${end}`);
        const whole = readTextTable(s);
        const dialect = detectDialect(s);
        const wanted = dialect.columns.map(() => true);
        const pieces = assembleTable(
          "test.dat",
          dialect,
          planChunkes(s, dialect, size).map((p) => readSpan(s, dialect, p, wanted)),
        );
        expect(pieces).toEqual(whole);
      }),
    );
  });
});

describe("the end of a table, read for its description", () => {
  const wide = Array.from({ length: 4000 }, (_, k) => `p${k}`);
  const row = (t: number): string => [t, ...wide.map((_, k) => (t + k / 7).toFixed(12))].join(",");
  it.each([
    ["rows longer than what is looked at first", [row(0), row(1), row(2.5)], "\n", 2.5, false],
    ["and the last one cut off", [row(0), row(1), row(2).slice(0, 30_000)], "", 1, true],
    [
      "much text behind the last row",
      [row(0), row(3), ...Array.from({ length: 900 }, () => "# ".padEnd(60, "-"))],
      "\n",
      3,
      false,
    ],
  ])("%s", (_, rows, end, last, cutOff) => {
    const head = describeTextTable(source([`t,${wide.join(",")}`, ...rows].join("\n") + end));
    expect([head.last, head.cutOff, head.columns.length]).toEqual([last, cutOff, 4001]);
  });
});

describe("a last line without a line end", () => {
  it.each([
    ["0,1.50\n1,2.50\n2,3.2", 2],
    ["0,1.50\n1,2.50\n2,3.25", 3],
    ["0,100\n1,200\n2,30", 2],
    ["0,100\n1,200\n2,300", 3],
    ["0,1.5e-03\n1,2.5e-03\n2,3.5e-0", 2],
  ])("%j gives %i rows", (body, rows) => {
    const r = read(`time [s],T [K]\n${body}`);
    expect([r.rows, r.conditions]).toEqual([rows, ["unfinished line"]]);
    expect(read(`time [s],T [K]\n${body}`, { lastLine: "read" }).rows).toBe(3);
    expect(read(`time [s],T [K]\n${body}`, { lastLine: "skip" }).rows).toBe(2);
    expect(read(`time [s],T [K]\n${body}\n`)).toMatchObject({ rows: 3, conditions: [] });
  });
});

describe("passes and restarts", () => {
  const two = (first: string, second: string): ReturnType<typeof read> => read(`time T\n${first}\ntime T\n${second}\n`);
  it("a repeated header whose axis returns to its start begins a pass and drops nothing", () => {
    const r = two("0 1\n1 2\n2 3", "0 10\n1 20\n2 30");
    expect(r.values).toEqual({ time: [0, 1, 2, 0, 1, 2], T: [1, 2, 3, 10, 20, 30], pass: [1, 1, 1, 2, 2, 2] });
    expect(r.conditions).toEqual([]);
  });
  it("an overlap after a repeated header is a restart, also of one row", () => {
    expect(two("0 1\n1 2\n2 3", "2 30\n3 40")).toMatchObject({
      values: { time: [0, 1, 2, 3], T: [1, 2, 30, 40] },
      conditions: ["restart"],
    });
    expect(two("0 1\n1 2\n2 3", "1 20\n3 40").values).toEqual({ time: [0, 1, 3], T: [1, 20, 40] });
  });
});

describe("signs that can mean two things", () => {
  it.each([
    ["t\tT\n0\t1,250\n1\t2,500\n", /column 2 holds "1,250": every number with a comma has three digits/],
    ["t;T;p\n0,5;1,2;1.250\n1;2,5;2.250\n", /column 3 holds "1.250": digits are grouped/],
    ["t;T;p\n0.5;1.25;1,250\n1.5;2.55;2,250\n", /digits are grouped, or commas and points are mixed/],
    ['t,T\n0.5,"1,250"\n1.5,"2,000"\n', /column 2 holds "1,250": digits are grouped/],
  ])("%j is refused", (text, why) => {
    expect(() => read(text)).toThrow(why);
  });
  it("are read as the options say, and where the file shows it", () => {
    expect(read("t\tT\n0\t1,250\n1\t2,500\n", { decimal: "," }).values["T"]).toEqual([1.25, 2.5]);
    const stated = read("t;T\n0;1,250\n1;2,500\n");
    expect([stated.values["T"], stated.notes.join()]).toEqual([
      [1.25, 2.5],
      expect.stringMatching(/"1,250" is 1\.250; if it groups thousands/),
    ]);
    expect(read("t;T\n0,5;1,250\n1;2,500\n").values["T"]).toEqual([1.25, 2.5]);
  });
  it("a point where the comma is the decimal sign makes the cell missing, with a condition", () => {
    const r = read("t;p;T\n0,5;1;950,5\n1,5;2;1.250,5\n2,5;3;980,25\n3,5;4;1.000\n");
    expect(r.values["T"]).toEqual([950.5, NaN, 980.25, NaN]);
    expect(r.conditions).toEqual(["missing cells"]);
  });
});
