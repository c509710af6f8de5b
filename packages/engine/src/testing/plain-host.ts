import { parseQuantity } from "@oxtrum/core/tables";
import { knownArithmetic } from "../verbs/quantity-verbs.js";
import { execute } from "../scheduler/evaluate.js";
import { Graph } from "../scheduler/graph.js";
import { libraryForms } from "../verbs/library-forms.js";
import type { Outcome } from "../verbs/values.js";

/** A node as an operation's call: its arguments and the values of its inputs. */
export type OperationCall = readonly [op: string, args: unknown, ...inputs: Outcome[]];

interface Lazy {
  readonly $id: number;
}
type Runtime = typeof import("../sandbox/runtime/tables.js") &
  typeof import("../sandbox/runtime/quantities.js") &
  typeof import("../sandbox/runtime/fits.js") &
  typeof import("../sandbox/runtime/laws.js") &
  Pick<typeof import("../sandbox/runtime/record.js"), "flush" | "node" | "ScriptError">;

/**
 * The script library in this thread, without an interpreter, threads or type check: verbs make nodes, and `outcome`
 * works them out. There is one, as the library finds its host but once.
 *
 * @example
 *   const h = await PlainHost.load();
 *   h.outcome(h.table(history).max("T"));
 */
export class PlainHost {
  readonly #graph = new Graph();
  readonly #given = new Map<number, Outcome>();
  private constructor(readonly runtime: Runtime) {}

  static #loaded: Promise<PlainHost> | undefined;
  static load(): Promise<PlainHost> {
    return (this.#loaded ??= this.#load());
  }
  static async #load(): Promise<PlainHost> {
    const made: { host?: PlainHost } = {};
    const answer = (make: () => unknown): string => {
      try {
        return JSON.stringify(make());
      } catch (e) {
        return JSON.stringify({ error: (e as Error).message });
      }
    };
    Object.assign(globalThis, {
      __oxtrumHost: {
        forms: () => libraryForms(),
        nodes: (json: string) => made.host!.#take(json),
        quantity: (text: string) => answer(() => parseQuantity(text)),
        arithmetic: (json: string) => answer(() => knownArithmetic(JSON.parse(json) as never)),
        log: () => undefined,
      },
    });
    const [tables, quantities, fits, laws, record] = await Promise.all([
      import("../sandbox/runtime/tables.js"),
      import("../sandbox/runtime/quantities.js"),
      import("../sandbox/runtime/fits.js"),
      import("../sandbox/runtime/laws.js"),
      import("../sandbox/runtime/record.js"),
    ]);
    return (made.host = new PlainHost({ ...tables, ...quantities, ...fits, ...laws, ...record }));
  }

  #take(json: string): void {
    const { forms, nodes } = JSON.parse(json) as {
      forms: [string, unknown][];
      nodes: [number, number[], number, number][];
    };
    for (const [op, args] of forms) this.#graph.addForm(op, args);
    for (const [form, inputs, line] of nodes) this.#graph.add(form, inputs, line, -1);
  }

  /** A value as a script has it: something to ask verbs of. */
  given(value: Outcome): number {
    const id = this.runtime.node("given", { number: this.#given.size }, []);
    this.#given.set(id, value);
    return id;
  }
  table(value: Outcome): Record<string, (...given: unknown[]) => Lazy> {
    return new this.runtime.Table(this.given(value)) as never;
  }
  /** The operation that a lazy value asks for, with the values of its inputs. */
  call(lazy: Lazy): OperationCall {
    this.runtime.flush();
    const n = this.#graph.nodes[lazy.$id]!;
    return [n.op, n.args, ...n.inputs.map((id) => this.outcome({ $id: id }))];
  }
  outcome(lazy: Lazy): Outcome {
    const known = this.#given.get(lazy.$id);
    if (known) return known;
    const [op, args, ...inputs] = this.call(lazy);
    return execute(op, args, inputs);
  }
}
