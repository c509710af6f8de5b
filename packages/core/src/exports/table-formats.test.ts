import { describe, expect, it } from "@jest/globals";
import { unzipSync } from "fflate";
import { parquetMetadata, parquetReadObjects } from "hyparquet";
import readWorkbook from "read-excel-file/node";
import { makeTable, numberColumn, textColumn } from "../tables/table.js";
import { roundedNumber, toCsv, toHtml, toLatex, toMarkdown, toParquet, toSemicolon, toTsv, toXlsx } from "./index.js";

const table = makeTable(
  [
    textColumn("run", ["a;1", "=SUM(A1:A9)", 'say "so"', ""]),
    numberColumn("T", "degC", [1.5, -0.000012345678, Number.NaN, 123456.789], { label: "T_{mean}" }),
    numberColumn("x|y", "1", [1, 2, 3, Infinity]),
  ],
  { notes: ["weighted along time"] },
);
/** Sheets by name, as another reader has them. */
const sheetsOf = async (b: Uint8Array): Promise<Map<string, unknown[][]>> =>
  new Map((await readWorkbook(Buffer.from(b))).map((s) => [s.sheet, s.data as unknown[][]]));
const text = (b: Uint8Array): string => Buffer.from(b).toString("utf8");
const bytes = (b: Uint8Array): ArrayBuffer => b.buffer.slice(b.byteOffset, b.byteOffset + b.byteLength) as ArrayBuffer;

describe("numbers for reading", () => {
  it.each([
    [1.23456789, 4, "1.235"],
    [0.00012345, 3, "0.000123"],
    [0.000012345, 3, "1.23e-5"],
    [12345678, 3, "1.23e7"],
    [999.96, 4, "1000"],
    [100, 4, "100.0"],
    [-2.5, 2, "-2.5"],
    [0, 4, "0"],
    [Number.NaN, 4, ""],
    [0.1 + 0.2, undefined, "0.30000000000000004"],
  ])("%d with %s digits is %s", (x, digits, wanted) => expect(roundedNumber(x, digits)).toBe(wanted));
});

describe("tables as text", () => {
  it("with commas, digits when asked for", () => {
    expect(text(toCsv(table, { digits: 3 })).split("\n")[4]).toBe(",1.23e5,Inf".replace("1.23e5", "123000"));
  });
  it("with tabs", () => {
    expect(text(toTsv(table)).split("\n").slice(0, 2)).toEqual(["run\tT [degC]\tx|y [1]", "a;1\t1.5\t1"]);
  });
  it("with semicolons and a decimal comma", () => {
    expect(text(toSemicolon(table)).split("\n").slice(1, 4)).toEqual([
      '"a;1";1,5;1',
      "'=SUM(A1:A9);-0,000012345678;2",
      '"say ""so""";;3',
    ]);
  });
  it("as Markdown, in which no sign does anything", () => {
    const lines = text(toMarkdown(table)).split("\n");
    expect(lines[1]).toBe("| :-- | --: | --: |");
    expect(lines[2]).toBe("| a;1 | 1.50000 | 1.00000 |");
    expect(lines[0]).toContain("x\\|y");
  });
  it("as LaTeX, with labels set and signs kept", () => {
    const t = makeTable([
      textColumn("a_b & 50 %", ["#1 {x}"]),
      numberColumn("T", "degC", [-1.5e-7], { label: "T_{mean}" }),
    ]);
    const lines = text(toLatex(t, { digits: 2 })).split("\n");
    expect(lines[0]).toBe("\\begin{tabular}{lr}");
    expect(lines[2]).toBe("a\\_b \\& 50 \\% & T$_{\\mathrm{mean}}$ [$^\\circ$C] \\\\");
    expect(lines[4]).toBe("\\#1 \\{x\\} & $-1.5\\cdot 10^{-7}$ \\\\");
  });
  it("as a page, with the exact number on hover and nothing of the words taken for signs", () => {
    const page = text(
      toHtml(makeTable([textColumn("<b>", ["<script>&"]), numberColumn("T", "K", [1 / 3])]), 'a "title"'),
    );
    expect(page).toContain("<title>a &quot;title&quot;</title>");
    expect(page).toContain("<td>&lt;script&gt;&amp;</td>");
    expect(page).toContain('title="0.3333333333333333">0.333333</td>');
  });
});

describe("workbooks, read by another reader", () => {
  it("have names, units, numbers as numbers, words as words, and where it came from", async () => {
    const book = await toXlsx([{ name: "peaks", table }], {
      about: [
        ["output", "peaks"],
        ["note", "weighted"],
      ],
    });
    const read = await sheetsOf(book);
    expect([...read.keys()]).toEqual(["peaks", "where from"]);
    const rows = read.get("peaks")!;
    expect(rows.slice(0, 3)).toEqual([
      ["run", "T", "x|y"],
      [null, "°C", null],
      ["a;1", 1.5, 1],
    ]);
    expect(rows[3]).toEqual(["=SUM(A1:A9)", -0.000012345678, 2]);
    expect(rows[4]![1]).toBeNull();
    expect(rows[5]).toEqual([null, 123456.789, "Inf"]);
    const parts = unzipSync(book);
    const sheet = Buffer.from(parts["xl/worksheets/sheet1.xml"]!).toString("utf8");
    expect(sheet).not.toContain("<f>");
    expect(sheet).toMatch(/<pane[^>]*ySplit="2"[^>]*state="frozen"/);
    expect(read.get("where from")![1]).toEqual(["note", "weighted"]);
  });
  it("are the same bytes each time, hold no time, and show the digits asked for", async () => {
    const make = (): Promise<Uint8Array> => toXlsx([{ name: "a", table }], { about: [], digits: 3 });
    const [one, two] = [await make(), await new Promise((d) => setTimeout(d, 1100)).then(make)];
    expect(Buffer.from(one).equals(Buffer.from(two))).toBe(true);
    const parts = unzipSync(one);
    expect(Object.keys(parts)[0]).toBe("[Content_Types].xml");
    expect(Buffer.from(parts["xl/styles.xml"]!).toString("utf8")).toMatch(/formatCode="0(?:\.0+)?"/);
  });
  it("have a sheet per run, under names that sheets can have", async () => {
    const sheets = ["a/b:c", "A-B-C", "x".repeat(40), "x".repeat(41)].map((name) => ({ name, table }));
    expect([...(await sheetsOf(await toXlsx(sheets, { about: [] }))).keys()]).toEqual([
      "a-b-c",
      "A-B-C 2",
      `${"x".repeat(30)}…`,
      `${"x".repeat(28)}… 2`,
      "where from",
    ]);
  });
  it("are refused when a sheet cannot take it, with what to use", async () => {
    const long = makeTable([numberColumn("x", "1", new Float64Array(1_048_576))]);
    await expect(toXlsx([{ name: "long", table: long }], { about: [] })).rejects.toThrow(
      /1048576 rows.*csv or parquet/,
    );
  });
});

describe("Parquet, read by another reader", () => {
  it("has the same values, nulls for gaps, units and notes", async () => {
    const file = bytes(await toParquet(table));
    const rows = (await parquetReadObjects({ file })) as Record<string, unknown>[];
    expect(rows).toEqual([
      { run: "a;1", T: 1.5, "x|y": 1 },
      { run: "=SUM(A1:A9)", T: -0.000012345678, "x|y": 2 },
      { run: 'say "so"', T: null, "x|y": 3 },
      { run: "", T: 123456.789, "x|y": Infinity },
    ]);
    const kv = parquetMetadata(file).key_value_metadata!;
    expect(JSON.parse(kv.find((k) => k.key === "units")!.value!)).toEqual({ T: "degC", "x|y": "1" });
    expect(JSON.parse(kv.find((k) => k.key === "notes")!.value!)).toEqual(["weighted along time"]);
  });
  it("holds many rows in groups, and is the same each time", async () => {
    const long = makeTable([
      numberColumn(
        "x",
        "m",
        Float64Array.from({ length: 250_000 }, (_, i) => Math.sin(i)),
      ),
    ]);
    const [a, b] = [await toParquet(long), await toParquet(long)];
    expect(Buffer.from(a).equals(Buffer.from(b))).toBe(true);
    const rows = (await parquetReadObjects({ file: bytes(a), rowStart: 249_998 })) as { x: number }[];
    expect(rows.map((r) => r.x)).toEqual([Math.sin(249_998), Math.sin(249_999)]);
  });
  it("takes a table without rows", async () => {
    const none = makeTable([numberColumn("x", "m", []), textColumn("w", [])]);
    expect(await parquetReadObjects({ file: bytes(await toParquet(none)) })).toEqual([]);
  });
});
