import path from "node:path";
import type { ChartDescription } from "@oxtrum/core/charts";
import { readPlainFile } from "@oxtrum/core/formats";
import { z } from "zod";

/** The house style: how all charts of a workspace look. Sizes in pixels of 1/96 inch. */
export const chartStyleSchema = z
  .object({
    textSize: z.number().min(6).max(40).optional(),
    lineWidth: z.number().min(0.2).max(10).optional(),
    markerSize: z.number().min(0.5).max(20).optional(),
    colors: z
      .array(z.string().regex(/^#[0-9A-Fa-f]{6}$/, "a colour is written #RRGGBB"))
      .min(1)
      .max(40)
      .optional(),
    grid: z.enum(["lines", "none"]).optional(),
    digits: z.record(z.string().max(40), z.number().int().min(1).max(15)).optional(),
    theme: z.enum(["screen", "print"]).optional(),
  })
  .strict();
export type HouseStyle = z.infer<typeof chartStyleSchema>;

/** The name under which it lies beside a script. */
export const styleFile = "oxtrum.style.json";

/** Reads a house style. @throws Error saying what is wrong with it */
export function readStyle(file: string): HouseStyle {
  let json: unknown;
  try {
    json = JSON.parse(readPlainFile(file, { most: 1e6 }).toString("utf8"));
  } catch (e) {
    throw new Error(`${path.basename(file)}: cannot be read as a style: ${(e as Error).message}`);
  }
  const parsed = chartStyleSchema.safeParse(json);
  if (!parsed.success)
    throw new Error(
      `${path.basename(file)}: ${parsed.error.issues[0]!.path.join(".")}: ${parsed.error.issues[0]!.message}`,
    );
  return parsed.data;
}

/** A chart in the house style; what the script says itself stands. */
export function inStyle(chart: ChartDescription, { theme, ...style }: HouseStyle): ChartDescription {
  if (theme === undefined && Object.keys(style).length === 0) return chart;
  const given = Object.fromEntries(Object.entries(style).filter(([, v]) => v !== undefined));
  return {
    ...chart,
    ...(Object.keys(given).length > 0 && { style: given }),
    ...(chart.theme === undefined && theme !== undefined && { theme }),
  };
}
