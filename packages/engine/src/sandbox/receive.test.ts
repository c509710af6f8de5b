import { describe, expect, it } from "@jest/globals";
import fc from "fast-check";
import { refused } from "../testing/refused.js";
import type { Emission, SandboxSetup } from "./protocol.js";
import { checkEmission, MessageError, NodeReceiver, parseMessage } from "./receive.js";

const setup: SandboxSetup = {
  modules: { "main.ts": "" },
  main: "main.ts",
  studies: {
    small: {
      runs: [0, 2].map((index) => ({
        id: `r${index}`,
        name: `r${index}`,
        index,
        params: [],
        tried: true,
        state: null,
      })),
      parameters: [],
      rules: [],
      fileSets: [],
      filesOf: [],
      shortNames: {},
      shortBeside: {},
    },
  },
  inputs: {},
  seconds: 60,
};

function receiver(): { forms: unknown[]; nodes: unknown[]; of: NodeReceiver } {
  const forms: unknown[] = [];
  const nodes: unknown[] = [];
  const nothing = (): never => {
    throw new Error("not asked for");
  };
  const listener = {
    form: (op: string, args: unknown) => void forms.push([op, args]),
    node: (...given: unknown[]) => void nodes.push(given),
    emit: nothing,
    input: nothing,
    module: nothing,
    mapping: nothing,
    read: nothing,
    columns: nothing,
  };
  return { forms, nodes, of: new NodeReceiver(listener, setup) };
}
const take = (r: NodeReceiver, forms: unknown, nodes: unknown): void => r.take(JSON.stringify({ forms, nodes }));
const read = ["run.table", { study: "small", file: "hall.csv" }];

describe("messages of a script", () => {
  it.each<readonly [string, unknown]>([
    ["nodes", { type: "nodes", json: "[]" }],
    ["an emission", { type: "emit", emission: { kind: "table", name: "a", node: 3, options: {}, line: 4 } }],
    ["an input", { type: "input", name: "limit", value: 3, fallback: 4 }],
    ["a module", { type: "module", file: "a.ts", number: 1 }],
    ["a mapping", { type: "mapping", study: "small", runs: [0, 2] }],
    ["a question", { type: "read", id: 3, what: "quantity" }],
    ["the end", { type: "done" }],
    ["an error", { type: "error", message: "a slip", file: "main.ts", line: 3 }],
  ])("are taken as they are: %s", (_, m) => {
    expect(parseMessage(m)).toEqual(m);
  });
  it.each<readonly [string, unknown, RegExp]>([
    ["another type", { type: "delete" }, /type/],
    [
      "a word of emit that there is not",
      { type: "emit", emission: { kind: "file", name: "a", node: 1, options: {}, line: 1 } },
      /emission\.kind/,
    ],
    ["a node between two numbers", { type: "read", id: 1.5, what: "quantity" }, /id/],
    ["a negative node", { type: "columns", id: -1 }, /id/],
    ["runs by their names", { type: "mapping", study: "small", runs: ["r0"] }, /runs\.0/],
    [
      "an endless name",
      { type: "emit", emission: { kind: "table", name: "a".repeat(20_000), node: 1, options: {}, line: 1 } },
      /emission\.name/,
    ],
    ["no object", "done", /cannot take/],
    ["nothing", null, /cannot take/],
  ])("are refused: %s", (_, m, message) => {
    expect(refused(() => parseMessage(m))).toMatch(message);
    expect(() => parseMessage(m)).toThrow(MessageError);
  });
  it("are refused at the line of their emission, where that is known", () => {
    const wrong = { type: "emit", emission: { kind: "file", name: "a", node: 1, options: {}, line: 12 } };
    try {
      parseMessage(wrong);
    } catch (e) {
      expect((e as MessageError).line).toBe(12);
    }
    expect.assertions(1);
  });
  it("property: whatever comes is a message or an error of the script, never anything else", () => {
    fc.assert(
      fc.property(fc.anything(), (v) => {
        try {
          parseMessage(v);
        } catch (e) {
          expect(e).toBeInstanceOf(MessageError);
        }
      }),
    );
  });
});

describe("an emission", () => {
  const emission = (more: Partial<Emission>): Emission => ({
    kind: "table",
    name: "a",
    node: 1,
    options: {},
    line: 7,
    ...more,
  });
  it("names a node that is there", () => {
    expect(checkEmission(emission({ node: 4 }), 5)).toMatchObject({ node: 4 });
    expect(refused(() => checkEmission(emission({ node: 5 }), 5))).toBe("emit.table: node 5 is not there");
  });
  it("rules names by what a rule can be", () => {
    const naming = (options: Record<string, unknown>): Emission => emission({ kind: "naming", node: null, options });
    expect(checkEmission(naming({ file: "{output}-{run}" }), 0).options).toEqual({ file: "{output}-{run}" });
    expect(refused(() => checkEmission(naming({ file: 3 }), 0))).toMatch(/^emit\.naming: file: /);
  });
});

describe("operations of a script", () => {
  it("come as forms and nodes, numbers that JSON does not know under names", () => {
    const r = receiver();
    take(
      r.of,
      [read, ["constant", { value: { $n: "NaN" }, list: [{ $n: "-0" }, { $n: "Infinity" }] }]],
      [
        [0, [], 12, 2],
        [1, [0], 13, -1],
      ],
    );
    expect(r.forms).toEqual([read, ["constant", { value: NaN, list: [-0, Infinity] }]]);
    expect(r.nodes).toEqual([
      [0, [], 12, 2],
      [1, [0], 13, -1],
    ]);
    expect(r.of.count).toBe(2);
    r.of.checkNode(1);
    expect(refused(() => r.of.checkNode(2))).toBe("the script asks for node 2, which is not there");
  });
  it.each<readonly [string, unknown, unknown, string]>([
    ["an operation that there is not", [["file.delete", {}]], [], 'there is no operation "file.delete"'],
    ["a form that there is not", [read], [[1, [], 3, 0]], "an operation cannot be read"],
    ["a node as an object", [read], [{ form: 0 }], "an operation cannot be read"],
    ["a line in words", [read], [[0, [], "x", 0]], "an operation cannot be read"],
    ["a run out of any range", [read], [[0, [], 3, 2 ** 31]], "an operation names a run that is not there"],
    ["a run that is half a one", [read], [[0, [], 3, 0.5]], "an operation names a run that is not there"],
    ["an input that comes later", [read], [[0, [0], 3, 0]], "an operation names an input that is not there"],
    ["an input that is text", [read], [[0, ["0"], 3, 0]], "an operation names an input that is not there"],
  ])("are refused: %s", (_, forms, nodes, message) => {
    expect(refused(() => take(receiver().of, forms, nodes))).toBe(message);
  });
  it("are refused where they cannot be read at all", () => {
    expect(refused(() => receiver().of.take("{"))).toMatch(/^the script's operations cannot be read: /);
    expect(refused(() => receiver().of.take('{"forms":3,"nodes":[]}'))).toMatch(/forms/);
  });
  it("name runs that the study has", () => {
    const { of } = receiver();
    of.checkMapping("small", [0, 2]);
    expect(refused(() => of.checkMapping("small", [1]))).toBe("the script names runs that are not there");
    expect(refused(() => of.checkMapping("other", []))).toBe("the script names runs that are not there");
    expect(refused(() => of.checkMapping("__proto__", []))).toBe("the script names runs that are not there");
  });
  it("property: nothing that a batch holds ends in anything but a mistake of the script", () => {
    fc.assert(
      fc.property(fc.array(fc.anything()), fc.array(fc.array(fc.anything())), (forms, nodes) => {
        let json: string;
        try {
          json = JSON.stringify({ forms, nodes });
        } catch {
          return;
        }
        try {
          receiver().of.take(json);
        } catch (e) {
          expect(e).toBeInstanceOf(MessageError);
        }
      }),
    );
  });
});
