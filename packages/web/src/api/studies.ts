import type { z } from "zod";
import * as s from "@oxtrum/contract";
import { base, checked, enc } from "./base";

/** The studies, and what is in their files. */
export const studiesApi = base.injectEndpoints({
  endpoints: (b) => ({
    studies: b.query<z.infer<typeof s.studyListSchema>, void>({
      query: () => "studies",
      transformResponse: checked(s.studyListSchema),
      providesTags: ["Studies"],
    }),
    study: b.query<z.infer<typeof s.studySchema>, string>({
      query: (name) => `studies/${enc(name)}`,
      transformResponse: checked(s.studySchema),
      providesTags: (_r, _e, n) => [{ type: "Study", id: n }],
    }),
    addStudy: b.mutation<unknown, { name: string; folder: string }>({
      query: (body) => ({ url: "studies", method: "POST", body }),
      invalidatesTags: (_r, e, a) => (e ? [] : ["Studies", "Previews", { type: "Study", id: a.name }]),
    }),
    removeStudy: b.mutation<unknown, string>({
      query: (name) => ({ url: `studies/${enc(name)}`, method: "DELETE" }),
      invalidatesTags: (_r, e) => (e ? [] : ["Studies", "Previews"]),
    }),
    scan: b.mutation<unknown, string>({
      query: (name) => ({ url: `studies/${enc(name)}/scan`, method: "POST" }),
      invalidatesTags: (_r, e, n) => (e ? [] : ["Studies", "Previews", { type: "Study", id: n }]),
    }),
    series: b.query<s.SeriesAnswer, { study: string; file: string; column: string; runs: string[]; points?: number }>({
      query: ({ study, file, column, runs, points }) => ({
        url: `studies/${enc(study)}/series`,
        method: "POST",
        body: {
          file,
          column,
          runs,
          ...(points !== undefined && { points }),
        },
      }),
      transformResponse: checked(s.seriesSchema),
      providesTags: (_r, _e, a) => [{ type: "Study", id: a.study }],
    }),
    curves: b.query<s.Curves, { study: string; file: string; run: string }>({
      query: ({ study, ...params }) => ({ url: `studies/${enc(study)}/curves`, params }),
      transformResponse: checked(s.curvesSchema),
      providesTags: (_r, _e, a) => [{ type: "Study", id: a.study }],
    }),
    verdicts: b.query<z.infer<typeof s.verdictsSchema>, string>({
      query: (name) => `studies/${enc(name)}/verdicts`,
      transformResponse: checked(s.verdictsSchema),
      providesTags: (_r, _e, n) => [{ type: "Study", id: n }],
    }),
  }),
});

export const {
  useStudiesQuery,
  useStudyQuery,
  useAddStudyMutation,
  useRemoveStudyMutation,
  useScanMutation,
  useSeriesQuery,
  useCurvesQuery,
  useVerdictsQuery,
} = studiesApi;
