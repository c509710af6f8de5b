import { parseQuantity } from "@oxtrum/core/tables";
import { knownArithmetic } from "../verbs/quantity-verbs.js";
import { execute } from "../scheduler/evaluate.js";
import { Graph } from "../scheduler/graph.js";
import { libraryForms } from "../verbs/library-forms.js";
import { readAnswer } from "../job/read-answer.js";
import type { StudyHead } from "../sandbox/runtime/run.js";
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
  typeof import("../sandbox/runtime/runs.js") &
  typeof import("../sandbox/runtime/outputs.js") &
  Omit<typeof import("../sandbox/runtime/record.js"), "Lazy">;

/** A study as the host of a script tells it, with the files that all its runs have. */
export interface GivenStudy extends Omit<StudyHead, "error"> {
  readonly files: readonly string[];
}

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
  /** Studies that scripts may ask for, and values for their inputs. */
  readonly studies = new Map<string, GivenStudy>();
  readonly inputs = new Map<string, unknown>();
  /** What was emitted, and what the library tells of its callbacks and modules. */
  readonly emitted: Record<string, unknown>[] = [];
  readonly told: Record<string, unknown>[] = [];
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
        log: (json: string) => void made.host!.told.push(JSON.parse(json) as Record<string, unknown>),
        emit: (json: string) => void made.host!.emitted.push(JSON.parse(json) as Record<string, unknown>),
        read: (id: number, what: string) => readAnswer(made.host!.outcome({ $id: id }), what),
        study: (name: string) =>
          JSON.stringify(made.host!.studies.get(name) ?? { error: `there is no study "${name}"` }),
        has: (study: string, _: number, file: string) => made.host!.studies.get(study)!.files.includes(file),
        named: (study: string, file: string) => JSON.stringify(made.host!.#named(study, file)),
        input: (json: string) => {
          const asked = JSON.parse(json) as { name: string };
          return JSON.stringify({ ...asked, ...(made.host!.inputs.get(asked.name) as object | undefined) });
        },
      },
    });
    const [tables, quantities, fits, laws, runs, outputs, record] = await Promise.all([
      import("../sandbox/runtime/tables.js"),
      import("../sandbox/runtime/quantities.js"),
      import("../sandbox/runtime/fits.js"),
      import("../sandbox/runtime/laws.js"),
      import("../sandbox/runtime/runs.js"),
      import("../sandbox/runtime/outputs.js"),
      import("../sandbox/runtime/record.js"),
    ]);
    return (made.host = new PlainHost({ ...tables, ...quantities, ...fits, ...laws, ...runs, ...outputs, ...record }));
  }

  #named(study: string, file: string): { file: string } | { error: string } {
    const meant = this.studies.get(study)!.files.filter((f) => f === file || f.startsWith(`${file}.`));
    return meant.length > 1 ? { error: `"${file}" can be ${meant.join(" and ")}` } : { file: meant[0] ?? file };
  }

  #take(json: string): void {
    const { forms, nodes } = JSON.parse(json) as {
      forms: [string, unknown][];
      nodes: [number, number[], number, number][];
    };
    for (const [op, args] of forms) this.#graph.addForm(op, args);
    for (const [form, inputs, line, run] of nodes) this.#graph.add(form, inputs, line, run);
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
  /** The operation that a lazy value asks for, its inputs not computed. */
  nodeOf(lazy: Lazy): { readonly op: string; readonly args: unknown; readonly inputs: readonly number[] } {
    this.runtime.flush();
    return this.#graph.nodes[lazy.$id]!;
  }
  outcome(lazy: Lazy): Outcome {
    const known = this.#given.get(lazy.$id);
    if (known) return known;
    const [op, args, ...inputs] = this.call(lazy);
    return execute(op, args, inputs);
  }
}
