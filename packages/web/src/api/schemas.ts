import { z } from "zod";

/** What the server answers, checked where it comes in. */
const number = z.number().nullable();
export const columnHead = z.object({ name: z.string(), unit: z.string().nullable(), kind: z.enum(["number", "text"]) });
const problem = z.object({ run: z.string(), kind: z.string(), file: z.string().optional(), text: z.string() });

export const studyListSchema = z.array(
  z.object({
    name: z.string(),
    folder: z.string(),
    title: z.string().nullable(),
    runs: z.number(),
    parameters: z.array(z.string()),
    problems: z.number(),
    error: z.string().optional(),
  }),
);

const fieldHead = z.object({
  file: z.string(),
  axis: z.string().nullable(),
  fields: z.array(
    z.object({ name: z.string(), on: z.enum(["point", "cell"]), components: z.number(), unit: z.string().nullable() }),
  ),
  blocks: z.array(z.string()),
  runs: z.number(),
  steps: z.number(),
  last: z.number().nullable(),
  odd: z.array(z.object({ run: z.string(), text: z.string() })),
});
export type FieldHead = z.infer<typeof fieldHead>;

export const studySchema = z.object({
  name: z.string(),
  folder: z.string(),
  scannedAt: z.number(),
  title: z.string().nullable(),
  how: z.string(),
  parameters: z.array(
    z.object({
      name: z.string(),
      unit: z.string().nullable(),
      type: z.enum(["number", "text"]),
      label: z.string().optional(),
    }),
  ),
  files: z.array(
    z.object({
      file: z.string(),
      columns: z.array(columnHead).nullable(),
      runs: z.number(),
      axis: z.string().nullable(),
    }),
  ),
  fields: z.array(fieldHead),
  rules: z.array(z.object({ name: z.string(), file: z.string(), value: z.string(), limit: z.string() })),
  beside: z.array(z.object({ file: z.string(), columns: z.array(columnHead).nullable() })),
  /** What of the folder could not be listed, and belongs to no run. */
  problems: z.array(z.string()),
  runs: z.array(
    z.object({
      id: z.string(),
      params: z.record(z.string(), z.union([z.number(), z.string()])),
      files: z.number(),
      problems: z.array(problem),
    }),
  ),
});

export const seriesSchema = z.array(
  z.union([
    z.object({
      run: z.string(),
      x: z.array(number),
      y: z.array(number),
      xName: z.string(),
      xUnit: z.string().nullable(),
      unit: z.string().nullable(),
      min: number,
      max: number,
    }),
    z.object({ run: z.string(), error: z.string() }),
  ]),
);

export const scriptListSchema = z.array(
  z.object({ id: z.number(), name: z.string(), revision: z.number(), updatedAt: z.number() }),
);
export const scriptSchema = z.object({
  id: z.number(),
  name: z.string(),
  revision: z.number(),
  updatedAt: z.number(),
  text: z.string(),
});
export const revisionListSchema = z.array(z.object({ number: z.number(), createdAt: z.number(), size: z.number() }));

const place = { file: z.string().optional(), line: z.number().optional(), hint: z.string().optional() };
export const leftOutSchema = z.object({ run: z.string(), reason: z.string(), ...place });
export const outputSchema = z.object({
  name: z.string(),
  kind: z.string(),
  line: z.number(),
  file: z.string(),
  failed: z.string().optional(),
  files: z.array(z.object({ file: z.string(), size: z.number(), sha256: z.string() })),
  runs: z.number(),
  of: z.array(z.string()).optional(),
  inputs: z.array(z.string()).optional(),
  left: z.array(leftOutSchema),
  notTried: z.number().optional(),
  notes: z.array(z.string()),
  verdict: z.enum(["passed", "failed", "undecided"]).optional(),
  summary: z.string().optional(),
  rows: z.number().optional(),
  digest: z.string().optional(),
});
export const diagnosticSchema = z.object({
  file: z.string(),
  line: z.number(),
  column: z.number(),
  endLine: z.number(),
  endColumn: z.number(),
  severity: z.enum(["error", "warning"]),
  message: z.string(),
  fixes: z.array(z.string()),
});
const cell = z.object({
  state: z.enum(["running", "done", "cache", "failed", "left-out"]),
  failure: z.object({ reason: z.string(), op: z.string(), ...place }).optional(),
});
const asked = z.object({ run: z.string(), file: z.string(), line: z.number(), missing: z.string().optional() });
const summary = z.object({
  runs: z.number(),
  left: z.array(leftOutSchema),
  cellsDone: z.number(),
  cellsCached: z.number(),
  peakBytes: z.number(),
  seconds: z.number(),
});

export const liveSchema = z.object({
  stage: z.string(),
  runs: z.array(z.object({ study: z.string(), id: z.string(), set: z.number() })),
  sets: z.array(z.array(z.number())),
  lines: z.array(z.object({ line: z.number(), label: z.string() })),
  cells: z.record(z.string(), z.record(z.string(), cell)),
  outputs: z.array(outputSchema),
  messages: z.array(z.object({ level: z.string(), text: z.string(), ...place })),
  diagnostics: z.array(diagnosticSchema),
  asked: z.array(asked),
  complete: z.boolean(),
  summary: summary.nullable(),
  left: z.array(leftOutSchema),
  seq: z.number(),
});

export const jobHeadSchema = z.object({
  id: z.number(),
  script: z.string(),
  revision: z.number(),
  mode: z.enum(["run", "try"]),
  state: z.enum(["waiting", "running", "done", "stopped", "interrupted", "failed"]),
  exit: number,
  createdAt: z.number(),
  startedAt: number,
  endedAt: number,
  pinned: z.boolean().optional(),
});
export const jobSchema = jobHeadSchema.extend({
  live: liveSchema,
  runsAsked: z.string().nullable(),
  files: z.record(z.string(), z.string()),
  reference: z.number().optional(),
});

export const checkSchema = z.object({ diagnostics: z.array(diagnosticSchema) });
export const preflightSchema = z.object({
  diagnostics: z.array(diagnosticSchema),
  asked: z.array(asked),
  /** Where the script samples fields, by the names it gives these sites. */
  sites: z.array(
    z.object({
      study: z.string(),
      file: z.string(),
      line: z.number(),
      name: z.string(),
      site: z.object({ kind: z.string() }).loose(),
    }),
  ),
  complete: z.boolean(),
});
export const completionSchema = z
  .object({
    from: z.number(),
    to: z.number(),
    entries: z.array(z.object({ label: z.string(), kind: z.string(), detail: z.string().optional() })),
  })
  .nullable();
export const hoverSchema = z
  .object({ from: z.number(), to: z.number(), signature: z.string(), documentation: z.string() })
  .nullable();

const axis = z.object({
  title: z.string(),
  unit: z.string().nullable(),
  scale: z.enum(["linear", "log"]),
  reversed: z.boolean().optional(),
  min: z.number().optional(),
  max: z.number().optional(),
  digits: z.number().optional(),
  categories: z.array(z.string()).optional(),
});
const box = z.object({ low: number, q1: number, median: number, q3: number, high: number, beyond: z.array(number) });
const axisPlace = z.union([z.number(), z.tuple([z.number(), z.number()])]);
const oneChart = z.object({
  title: z.string().optional(),
  subtitle: z.string().optional(),
  x: axis,
  y: axis,
  right: axis.optional(),
  legend: z.enum(["top", "right", "inside", "ends", "none"]).optional(),
  theme: z.enum(["screen", "print"]).optional(),
  columns: z.number().optional(),
  style: z
    .object({
      textSize: z.number().optional(),
      lineWidth: z.number().optional(),
      markerSize: z.number().optional(),
      colors: z.array(z.string()).optional(),
      grid: z.enum(["lines", "none"]).optional(),
      digits: z.record(z.string(), z.number()).optional(),
    })
    .optional(),
  heat: z
    .object({
      x: z.array(number),
      y: z.array(number),
      values: z.array(number),
      title: z.string(),
      unit: z.string().nullable(),
      min: z.number(),
      max: z.number(),
    })
    .optional(),
  marks: z
    .array(
      z.object({
        x: axisPlace.optional(),
        y: axisPlace.optional(),
        axis: z.enum(["left", "right"]).optional(),
        text: z.string().optional(),
      }),
    )
    .optional(),
  notes: z.array(z.object({ series: z.number(), x: z.number(), y: z.number(), text: z.string() })).optional(),
  series: z.array(
    z.object({
      kind: z.enum(["lines", "points", "both", "steps", "bars", "band", "errors", "box"]),
      name: z.string(),
      x: z.array(number),
      y: z.array(number),
      high: z.array(number).optional(),
      low: z.array(number).optional(),
      closed: z.boolean().optional(),
      boxes: z.array(box).optional(),
      stack: z.string().optional(),
      touching: z.boolean().optional(),
      run: z.string().optional(),
      color: z.union([z.object({ palette: z.number() }), z.object({ ramp: z.number() })]),
      dash: z.number().optional(),
      marker: z.number().optional(),
      axis: z.enum(["left", "right"]).optional(),
      faint: z.boolean().optional(),
      legend: z.string().optional(),
    }),
  ),
});
const chart = oneChart.extend({ panels: z.array(oneChart).optional() });
const quantity = z
  .object({ value: number, unit: z.string().nullable(), reason: z.string().optional(), method: z.string().optional() })
  .loose();
const tableColumn = z.object({
  name: z.string(),
  label: z.string().optional(),
  unit: z.string().nullable(),
  kind: z.string(),
  values: z.array(z.union([z.number(), z.string(), z.null()])),
});
export const valueSchema = z.union([
  z.object({ kind: z.literal("chart"), chart, runs: z.array(z.string()), left: z.array(leftOutSchema) }),
  z.object({
    kind: z.literal("table"),
    left: z.array(leftOutSchema),
    rows: z.number(),
    notes: z.array(z.string()),
    columns: z.array(tableColumn),
  }),
  z.object({
    kind: z.literal("picture"),
    left: z.array(leftOutSchema),
    runs: z.array(z.string()),
    panels: z.number(),
    frames: z.boolean(),
    titles: z.array(z.string()),
  }),
  z.object({ kind: z.literal("quantity"), quantity, left: z.array(leftOutSchema) }).loose(),
  z
    .object({
      kind: z.literal("check"),
      check: z
        .object({ verdict: z.string(), value: quantity, limit: z.string(), reason: z.string().optional() })
        .loose(),
      left: z.array(leftOutSchema),
    })
    .loose(),
]);
export const lookSchema = z.object({
  diagnostics: z.array(diagnosticSchema),
  outputs: z.array(outputSchema.extend({ value: valueSchema.optional() })),
  messages: z.array(z.object({ level: z.string(), text: z.string(), ...place })),
  overtaken: z.boolean(),
});
export type Look = z.infer<typeof lookSchema>;
export const verdictsSchema = z.object({
  rules: z.boolean(),
  trouble: z.string().optional(),
  table: valueSchema.optional(),
});
export const verificationSchema = z.object({
  same: z.boolean(),
  outputs: z.array(z.object({ name: z.string(), verdict: z.string(), detail: z.string().optional() })),
  inputs: z.array(z.object({ study: z.string(), path: z.string(), change: z.string() })),
  notes: z.array(z.string()),
});

export type StudySummary = z.infer<typeof studySchema>;
export type ColumnHead = z.infer<typeof columnHead>;
export type SeriesAnswer = z.infer<typeof seriesSchema>;
export type Job = z.infer<typeof jobSchema>;
export type JobHead = z.infer<typeof jobHeadSchema>;
export type Live = z.infer<typeof liveSchema>;
export type Output = z.infer<typeof outputSchema>;
export type Diagnostic = z.infer<typeof diagnosticSchema>;
export type OutputValue = z.infer<typeof valueSchema>;
export type TableValue = Extract<OutputValue, { kind: "table" }>;
export type Preflight = z.infer<typeof preflightSchema>;
export type Verification = z.infer<typeof verificationSchema>;

/** Bytes of numbers, little end first. */
const bytes = z.string().transform((t) => Uint8Array.from(atob(t), (c) => c.charCodeAt(0)).buffer);
const floats = bytes.transform((b) => new Float32Array(b));
const indices = bytes.transform((b) => new Uint32Array(b));
export const outlineSchema = z.object({
  bounds: z.array(z.number()),
  steps: z.array(number),
  axis: z.string(),
  axisUnit: z.string().nullable(),
  lengthUnit: z.string().nullable(),
  dimension: z.number(),
  cells: z.number(),
  points: floats,
  triangles: indices,
  owner: bytes.transform((b) => new Uint16Array(b)),
  edges: indices,
  patches: z.array(z.string()),
});
export type Outline = z.infer<typeof outlineSchema>;
export const pictureSchema = z.object({ places: floats, values: floats, unit: z.string().nullable() });
export type Picture = z.infer<typeof pictureSchema>;
export const drawingSchema = z.array(z.object({ lines: floats, dots: floats }));
export type Drawing = z.infer<typeof drawingSchema>[number];
/** A sampled table: what a site gives on one run. */
export const sampleSchema = z.object({ rows: z.number(), notes: z.array(z.string()), columns: z.array(tableColumn) });

export const guideSchema = z.array(
  z.object({
    name: z.string(),
    title: z.string(),
    text: z.string(),
    entries: z.array(
      z.object({
        name: z.string(),
        signatures: z.array(z.string()),
        text: z.string(),
        examples: z.array(z.string()),
      }),
    ),
  }),
);

export const settingsSchema = z.object({
  workers: z.number().nullable(),
  memory: z.number(),
  scriptSeconds: z.number(),
  cache: z.number(),
  style: z
    .object({
      textSize: z.number().optional(),
      lineWidth: z.number().optional(),
      markerSize: z.number().optional(),
      colors: z.array(z.string()).optional(),
      grid: z.enum(["lines", "none"]).optional(),
      theme: z.enum(["screen", "print"]).optional(),
      digits: z.record(z.string(), z.number()).optional(),
    })
    .default({}),
});
export type ServerSettings = z.infer<typeof settingsSchema>;

const cellChange = z.object({
  row: z.number(),
  where: z.string(),
  column: z.string(),
  then: z.union([z.number(), z.string(), z.null()]),
  now: z.union([z.number(), z.string(), z.null()]),
  change: z.number().optional(),
  share: z.number().optional(),
});
export const jobDiffSchema = z.object({
  verdict: z.enum(["same bytes", "within tolerance", "changed"]),
  script: z.array(
    z.object({ file: z.string(), line: z.number(), then: z.string().optional(), now: z.string().optional() }),
  ),
  settings: z.array(z.string()),
  inputs: z.array(z.object({ study: z.string(), path: z.string(), change: z.enum(["changed", "gone", "new"]) })),
  runs: z.array(z.object({ study: z.string(), run: z.string(), change: z.enum(["gone", "new", "parameters"]) })),
  outputs: z.array(
    z.object({
      name: z.string(),
      kind: z.string(),
      verdict: z.enum(["same bytes", "within tolerance", "changed", "new", "gone"]),
      detail: z.string().optional(),
      moved: z.number().optional(),
      cells: z.array(cellChange).optional(),
    }),
  ),
});
export type JobDiff = z.infer<typeof jobDiffSchema>;
export type OutputDiff = JobDiff["outputs"][number];
