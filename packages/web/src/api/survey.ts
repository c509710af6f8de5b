import type { z } from "zod";
import * as s from "@oxtrum/contract";
import { base, checked, enc } from "./base";

export interface SurveyAsk {
  readonly study: string;
  readonly run: string;
  readonly file: string;
  readonly fields: readonly string[];
  readonly when?: "first" | "last" | { readonly value: number; readonly pick: "exact" };
  readonly site: { readonly kind: string };
  /** Of clouds of points: how values are taken from them. */
  readonly sampling?: { readonly method: { readonly kind: "nearest" } };
}

/** Places in the domain of a study. */
export const surveyApi = base.injectEndpoints({
  endpoints: (b) => ({
    outline: b.query<z.infer<typeof s.outlineSchema>, { study: string; run: string; file: string }>({
      query: ({ study, ...body }) => ({ url: `studies/${enc(study)}/survey/outline`, method: "POST", body }),
      transformResponse: checked(s.outlineSchema),
      providesTags: (_r, _e, a) => [{ type: "Study", id: a.study }],
    }),
    drawing: b.query<
      s.Drawing[],
      { study: string; run: string; file: string; sites: readonly { readonly kind: string }[] }
    >({
      query: ({ study, ...body }) => ({ url: `studies/${enc(study)}/survey/drawing`, method: "POST", body }),
      transformResponse: checked(s.drawingSchema),
      providesTags: (_r, _e, a) => [{ type: "Study", id: a.study }],
    }),
    picture: b.query<z.infer<typeof s.pictureSchema>, SurveyAsk>({
      query: ({ study, ...body }) => ({ url: `studies/${enc(study)}/survey/picture`, method: "POST", body }),
      transformResponse: checked(s.pictureSchema),
      providesTags: (_r, _e, a) => [{ type: "Study", id: a.study }],
      keepUnusedDataFor: 20,
    }),
    sample: b.query<z.infer<typeof s.sampleSchema>, SurveyAsk>({
      query: ({ study, ...body }) => ({ url: `studies/${enc(study)}/survey/sample`, method: "POST", body }),
      transformResponse: checked(s.sampleSchema),
      providesTags: (_r, _e, a) => [{ type: "Study", id: a.study }],
    }),
    reduce: b.query<z.infer<typeof s.sampleSchema>, SurveyAsk>({
      query: ({ study, ...body }) => ({ url: `studies/${enc(study)}/survey/reduce`, method: "POST", body }),
      transformResponse: checked(s.sampleSchema),
      providesTags: (_r, _e, a) => [{ type: "Study", id: a.study }],
    }),
  }),
});

export const { useOutlineQuery, usePictureQuery, useSampleQuery, useReduceQuery, useDrawingQuery } = surveyApi;
