import { createApi, fetchBaseQuery } from "@reduxjs/toolkit/query/react";
import type { z } from "zod";

/** Makes sure that an answer is what the contract says. */
export const checked =
  <T>(schema: z.ZodType<T>) =>
  (answer: unknown): T =>
    schema.parse(answer);

/** A name as part of an address. */
export const enc = encodeURIComponent;

const TAGS = ["Previews", "Settings", "Studies", "Study", "Scripts", "Script", "Jobs", "Job"] as const;

/** What pages have asked of the server, by what it is about; each file beside this one adds what can be asked. */
export const base = createApi({
  reducerPath: "api",
  baseQuery: fetchBaseQuery({ baseUrl: "/api" }),
  tagTypes: TAGS,
  endpoints: () => ({}),
});

export type Tags = Parameters<typeof base.util.invalidateTags>[0];
/** All of it. */
export const ALL: Tags = [...TAGS];
