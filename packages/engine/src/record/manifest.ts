import { z } from "zod";
import { dictionary } from "../dictionary.js";
import { stableJson } from "@oxtrum/core/exports";
import { mergeConditions, type Condition } from "@oxtrum/core/tables";
import { operationVersions } from "../verbs/registry.js";
import { sha256 } from "../store/keys.js";
import type { Catalogue } from "../definition/catalogue-model.js";
import type { InputFile } from "../read/work-study.js";
import type { OutputRecord } from "./events.js";
import { chartStyleSchema } from "./chart-style.js";
import { namingSchema, type Naming } from "../sandbox/naming-schema.js";
import { engineVersion, mathFingerprint } from "./fingerprint.js";
import type { JobRequest } from "./request.js";

const leftOut = z.object({
  run: z.string(),
  reason: z.string(),
  file: z.string().optional(),
  line: z.number().optional(),
  offset: z.number().optional(),
  hint: z.string().optional(),
});

/** The record that lets anyone repeat and verify a job. No paths, no times: the same job gives the same manifest. */
export const manifestSchema = z.object({
  oxtrum: z.literal(1),
  engine: z.string(),
  platform: z.object({ node: z.string(), system: z.string(), mathematics: z.string() }),
  script: z.object({ main: z.string(), files: dictionary(z.object({ sha256: z.string(), text: z.string() })) }),
  inputs: dictionary(z.object({ value: z.unknown(), set: z.boolean() })),
  runsAsked: z.string().nullable(),
  style: chartStyleSchema.optional(),
  naming: namingSchema.optional(),
  studies: z.array(
    z.object({
      name: z.string(),
      definition: z.unknown(),
      parameters: z.array(z.unknown()),
      runs: z.array(z.object({ id: z.string(), params: dictionary(z.union([z.number(), z.string()])) })),
    }),
  ),
  operations: dictionary(z.number()),
  /** `blocks`: of so many blocks of 16 KiB the digest was made; without it of the whole file. */
  files: z.array(
    z.object({
      study: z.string(),
      path: z.string(),
      size: z.number(),
      sha256: z.string(),
      blocks: z.number().optional(),
    }),
  ),
  leftOut: z.array(leftOut.extend({ outputs: z.array(z.string()) })),
  /** What is known of the worth of input files, and which outputs were made from them. */
  conditions: z.array(
    z.object({
      study: z.string().optional(),
      run: z.string().optional(),
      file: z.string(),
      kind: z.string(),
      text: z.string(),
      outputs: z.array(z.string()),
    }),
  ),
  outputs: z.array(
    z.object({
      name: z.string(),
      kind: z.string().min(1).max(40),
      script: z.string(),
      line: z.number(),
      runs: z.number(),
      files: z.array(z.object({ file: z.string(), size: z.number(), sha256: z.string() })),
      digest: z.string().optional(),
      verdict: z.enum(["passed", "failed", "undecided"]).optional(),
      summary: z.string().optional(),
      failed: z.string().optional(),
      notes: z.array(z.string()),
      leftOut: z.array(leftOut),
    }),
  ),
  /** The files beside the outputs that list them. */
  indexes: z.array(z.object({ file: z.string(), size: z.number(), sha256: z.string() })),
  /** SHA-256 of all the rest of this manifest: by it a job's own folder is known. */
  digest: z.string(),
});

export type Manifest = z.infer<typeof manifestSchema>;

/** The digest that a manifest carries of itself. */
export function manifestDigest(m: Omit<Manifest, "digest">): string {
  const { digest: _, ...rest } = m as Manifest;
  return sha256(stableJson(rest));
}

/** A manifest with the files that list its outputs, and its digest. */
export function withIndexes(m: Manifest, indexes: OutputRecord["files"]): Manifest {
  const whole = { ...m, indexes: [...indexes] };
  return { ...whole, digest: manifestDigest(whole) };
}

export interface ManifestParts {
  readonly request: JobRequest;
  readonly inputs: ReadonlyMap<string, unknown>;
  readonly catalogues: ReadonlyMap<string, Catalogue>;
  readonly files: readonly InputFile[];
  readonly outputs: readonly OutputRecord[];
  readonly naming?: Naming | undefined;
}

/** What numbers may depend on besides the engine. */
const platform = (): Manifest["platform"] => ({
  node: process.versions.node.split(".")[0]!,
  system: `${process.platform}-${process.arch}`,
  mathematics: mathFingerprint(),
});

/** Builds the manifest; every list is sorted or in the script's order. */
export function makeManifest({ request, inputs, catalogues, files, outputs, naming }: ManifestParts): Manifest {
  const manifest: Omit<Manifest, "digest"> = {
    oxtrum: 1,
    engine: engineVersion(),
    platform: platform(),
    script: {
      main: request.main,
      files: Object.fromEntries(
        Object.entries(request.files)
          .sort(([a], [b]) => (a < b ? -1 : 1))
          .map(([f, text]) => [f, { sha256: sha256(text), text }]),
      ),
    },
    inputs: Object.fromEntries(
      [...inputs]
        .sort(([a], [b]) => (a < b ? -1 : 1))
        .map(([name, value]) => [name, { value, set: Object.hasOwn(request.inputs, name) }]),
    ),
    runsAsked: request.runs ?? null,
    ...(Object.keys(request.style).length > 0 && { style: request.style }),
    ...(naming && { naming }),
    studies: [...catalogues]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([name, c]) => ({
        name,
        definition: c.definition,
        parameters: [...c.parameters],
        runs: c.runs.map((r) => ({ id: r.id, params: { ...r.params } })),
      })),
    operations: operationVersions(),
    files: [...files]
      .map(({ study, path, size, sha256: digest, blocks }) => ({
        study,
        path,
        size,
        sha256: digest,
        ...(blocks && { blocks: blocks.length }),
      }))
      .sort((a, b) => (a.study + "\0" + a.path < b.study + "\0" + b.path ? -1 : 1)),
    leftOut: leftOutOf(outputs),
    conditions: conditionsOf(outputs),
    outputs: outputs.map((o) => ({
      name: o.name,
      kind: o.kind,
      script: o.file,
      line: o.line,
      runs: o.runs,
      files: [...o.files],
      notes: [...o.notes],
      leftOut: [...o.left],
      ...(o.digest !== undefined && { digest: o.digest }),
      ...(o.verdict && { verdict: o.verdict }),
      ...(o.summary !== undefined && { summary: o.summary }),
      ...(o.failed !== undefined && { failed: o.failed }),
    })),
    indexes: [],
  };
  return { ...manifest, digest: manifestDigest(manifest) };
}

/** All runs that outputs leave out, each reason once with the outputs that it reaches. */
function leftOutOf(outputs: readonly OutputRecord[]): Manifest["leftOut"] {
  const left = new Map<string, { run: string; reason: string; file?: string; line?: number; outputs: string[] }>();
  for (const o of outputs)
    for (const l of o.left) {
      const key = `${l.run}\0${l.reason}`;
      const have = left.get(key) ?? { ...l, outputs: [] };
      left.set(key, have);
      have.outputs.push(o.name);
    }
  return [...left.values()].sort((a, b) => (a.run < b.run ? -1 : a.run > b.run ? 1 : a.reason < b.reason ? -1 : 1));
}

/** All conditions of the outputs, each once with the outputs that it reaches. */
function conditionsOf(outputs: readonly OutputRecord[]): Manifest["conditions"] {
  const reached = new Map<string, string[]>();
  const keyOf = (c: Condition): string => JSON.stringify([c.study, c.run, c.file, c.kind, c.text]);
  for (const o of outputs)
    for (const key of new Set((o.conditions ?? []).map(keyOf))) reached.set(key, [...(reached.get(key) ?? []), o.name]);
  return mergeConditions(...outputs.map((o) => o.conditions)).map((c) => ({ ...c, outputs: reached.get(keyOf(c))! }));
}

export const manifestText = (m: Manifest): string => stableJson(m);
