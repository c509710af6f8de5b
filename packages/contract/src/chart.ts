import { z } from "zod";
import { numberOrNull } from "./fault.js";

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
const box = z.object({
  low: numberOrNull,
  q1: numberOrNull,
  median: numberOrNull,
  q3: numberOrNull,
  high: numberOrNull,
  beyond: z.array(numberOrNull),
});
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
      x: z.array(numberOrNull),
      y: z.array(numberOrNull),
      values: z.array(numberOrNull),
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
      kind: z.enum(["lines", "points", "linePoints", "steps", "bars", "band", "errorBars", "box"]),
      name: z.string(),
      x: z.array(numberOrNull),
      y: z.array(numberOrNull),
      high: z.array(numberOrNull).optional(),
      low: z.array(numberOrNull).optional(),
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
/** A chart, with its panels if it has several. */
export const chartSchema = oneChart.extend({ panels: z.array(oneChart).optional() });
