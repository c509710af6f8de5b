import { createApi, fetchBaseQuery } from "@reduxjs/toolkit/query/react";
import type { z } from "zod";
import { listenLive } from "../connection/live-stream";
import * as s from "@oxtrum/contract";

const checked =
  <T>(schema: z.ZodType<T>) =>
  (answer: unknown): T =>
    schema.parse(answer);

type JobMessage = Extract<s.LiveMessage, { job: number }>;

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

const enc = encodeURIComponent;

/** All that the pages ask of the server. */
export const api = createApi({
  reducerPath: "api",
  baseQuery: fetchBaseQuery({ baseUrl: "/api" }),
  tagTypes: ["Previews", "Settings", "Studies", "Study", "Scripts", "Script", "Jobs", "Job"],
  endpoints: (b) => ({
    signIn: b.mutation<unknown, string>({
      query: (token) => ({ url: "session", method: "POST", body: { token } }),
    }),
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
    live: b.mutation<s.LiveStudy, { study: string } & s.LiveRequest>({
      query: ({ study, ...body }) => ({ url: `studies/${enc(study)}/live`, method: "POST", body }),
      transformResponse: checked(s.liveStudySchema),
    }),
    logLines: b.query<s.LogLines, { study: string; run: string; file: string }>({
      query: ({ study, ...body }) => ({ url: `studies/${enc(study)}/log/lines`, method: "POST", body }),
      transformResponse: checked(s.logLinesSchema),
      providesTags: (_r, _e, a) => [{ type: "Study", id: a.study }],
    }),
    logMatch: b.query<
      s.LogMatch,
      {
        study: string;
        run: string;
        file: string;
        patterns: string[];
        options?: z.infer<typeof s.logMatchRequestSchema>["options"];
      }
    >({
      query: ({ study, ...body }) => ({ url: `studies/${enc(study)}/log/match`, method: "POST", body }),
      transformResponse: checked(s.logMatchSchema),
      providesTags: (_r, _e, a) => [{ type: "Study", id: a.study }],
    }),
    verdicts: b.query<z.infer<typeof s.verdictsSchema>, string>({
      query: (name) => `studies/${enc(name)}/verdicts`,
      transformResponse: checked(s.verdictsSchema),
      providesTags: (_r, _e, n) => [{ type: "Study", id: n }],
    }),
    preview: b.query<s.Preview, { text: string; script?: string | undefined; lane: string }>({
      query: (body) => ({ url: "previews", method: "POST", body }),
      transformResponse: checked(s.previewSchema),
      providesTags: ["Previews"],
      keepUnusedDataFor: 300,
    }),
    scripts: b.query<z.infer<typeof s.scriptListSchema>, void>({
      query: () => "scripts",
      transformResponse: checked(s.scriptListSchema),
      providesTags: ["Scripts"],
    }),
    script: b.query<z.infer<typeof s.scriptSchema>, string>({
      query: (name) => `scripts/${enc(name)}`,
      transformResponse: checked(s.scriptSchema),
      providesTags: (_r, _e, n) => [{ type: "Script", id: n }],
    }),
    /** `base` is the revision that the text was edited from; without it, whatever there is is followed by this one. */
    saveScript: b.mutation<s.Script, { name: string; text: string; base?: number; auto?: boolean }>({
      query: ({ name, ...body }) => ({ url: `scripts/${enc(name)}`, method: "PUT", body }),
      transformResponse: checked(s.scriptSchema),
      invalidatesTags: (_r, e, a) => (e ? [] : ["Scripts", { type: "Script", id: a.name }]),
    }),
    removeScript: b.mutation<unknown, string>({
      query: (name) => ({ url: `scripts/${enc(name)}`, method: "DELETE" }),
      invalidatesTags: (_r, e, n) => (e ? [] : ["Scripts", "Jobs", { type: "Script", id: n }]),
    }),
    revisions: b.query<z.infer<typeof s.revisionListSchema>, string>({
      query: (name) => `scripts/${enc(name)}/revisions`,
      transformResponse: checked(s.revisionListSchema),
      providesTags: (_r, _e, n) => [{ type: "Script", id: n }],
    }),
    revision: b.query<{ text: string }, { name: string; number: number }>({
      query: ({ name, number }) => `scripts/${enc(name)}/revisions/${number}`,
      transformResponse: checked(s.revisionSchema),
    }),
    addition: b.query<s.Addition, { name: string } & z.infer<typeof s.additionRequestSchema>>({
      query: ({ name, ...body }) => ({ url: `scripts/${enc(name)}/addition`, method: "POST", body }),
      transformResponse: checked(s.additionSchema),
    }),
    emitted: b.query<s.EmittedExpression, { name: string; text: string; output: string }>({
      query: ({ name, ...body }) => ({ url: `scripts/${enc(name)}/emitted`, method: "POST", body }),
      transformResponse: checked(s.emittedSchema),
    }),
    preflight: b.mutation<s.Preflight, { name: string; text: string }>({
      query: ({ name, text }) => ({ url: `scripts/${enc(name)}/preflight`, method: "POST", body: { text } }),
      transformResponse: checked(s.preflightSchema),
    }),
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
    guide: b.query<z.infer<typeof s.guideSchema>, void>({
      query: () => "guide",
      transformResponse: checked(s.guideSchema),
      keepUnusedDataFor: 3600,
    }),
    settings: b.query<s.ServerSettings, void>({
      query: () => "settings",
      transformResponse: checked(s.settingsSchema),
      providesTags: ["Settings"],
    }),
    saveSettings: b.mutation<unknown, s.ServerSettings>({
      query: (body) => ({ url: "settings", method: "PUT", body }),
      invalidatesTags: (_r, e) => (e ? [] : ["Settings"]),
    }),
    jobs: b.query<s.JobHead[], { tries: boolean } | void>({
      query: (o) => (o?.tries ? "jobs?tries=true" : "jobs"),
      transformResponse: checked(s.jobHeadSchema.array()),
      providesTags: ["Jobs"],
    }),
    startJob: b.mutation<s.JobHead, z.input<typeof s.startJobSchema>>({
      query: (body) => ({ url: "jobs", method: "POST", body }),
      transformResponse: checked(s.jobHeadSchema),
      invalidatesTags: (_r, e, a) => (e ? [] : ["Jobs", "Scripts", { type: "Script", id: a.script }]),
    }),
    stopJob: b.mutation<unknown, number>({
      query: (id) => ({ url: `jobs/${id}/stop`, method: "POST" }),
      invalidatesTags: (_r, e, id) => (e ? [] : ["Jobs", { type: "Job", id }]),
    }),
    removeJob: b.mutation<unknown, number>({
      query: (id) => ({ url: `jobs/${id}`, method: "DELETE" }),
      invalidatesTags: (_r, e) => (e ? [] : ["Jobs"]),
    }),
    verifyJob: b.mutation<s.Verification, number>({
      query: (id) => ({ url: `jobs/${id}/verify`, method: "POST" }),
      transformResponse: checked(s.verificationSchema),
    }),
    pinJob: b.mutation<unknown, { id: number; pinned: boolean }>({
      query: ({ id, pinned }) => ({ url: `jobs/${id}/pin`, method: pinned ? "PUT" : "DELETE" }),
      invalidatesTags: (_r, e) => (e ? [] : ["Jobs", "Job"]),
    }),
    jobDiff: b.query<s.JobDiff, { id: number; then: number; absolute: number; relative: number }>({
      query: ({ id, then, absolute, relative }) => ({ url: `jobs/${id}/diff/${then}`, params: { absolute, relative } }),
      transformResponse: checked(s.jobDiffSchema),
    }),
    value: b.query<
      s.OutputValue,
      { job: number; name: string; from?: number | undefined; to?: number | undefined; done?: boolean }
    >({
      query: ({ job, name, from, to }) => ({
        url: `jobs/${job}/values/${enc(name)}`,
        params: { ...(from !== undefined && { from }), ...(to !== undefined && { to }) },
      }),
      transformResponse: checked(s.valueSchema),
    }),
    job: b.query<z.infer<typeof s.jobSchema>, number>({
      query: (id) => `jobs/${id}`,
      transformResponse: checked(s.jobSchema),
      providesTags: (_r, _e, id) => [{ type: "Job", id }],
      keepUnusedDataFor: 10,
      async onCacheEntryAdded(id, { updateCachedData, cacheDataLoaded, cacheEntryRemoved, getCacheEntry, dispatch }) {
        const early: JobMessage[] = [];
        let loaded = false;
        const take = (m: JobMessage): void => {
          if ("events" in m && m.after > (getCacheEntry().data?.live.seq ?? 0)) {
            // Something was missed on the way: ask for the whole again.
            dispatch(api.util.invalidateTags([{ type: "Job", id }]));
            return;
          }
          updateCachedData((d) => {
            if ("state" in m) d.state = m.state;
            else
              m.events.forEach((e, k) => {
                if (m.after + k >= d.live.seq) s.applyEvent(d.live, e);
              });
          });
          if ("state" in m && m.state !== "running" && m.state !== "waiting")
            dispatch(api.util.invalidateTags([{ type: "Job", id }]));
        };
        const unlisten = listenLive((m) => {
          if (!("job" in m) || m.job !== id) return;
          if (loaded) take(m);
          else early.push(m);
        });
        try {
          await cacheDataLoaded;
          loaded = true;
          early.forEach(take);
          await cacheEntryRemoved;
        } finally {
          unlisten();
        }
      },
    }),
  }),
});

export const {
  useSignInMutation,
  useStudiesQuery,
  useStudyQuery,
  useAddStudyMutation,
  useRemoveStudyMutation,
  useScanMutation,
  useSeriesQuery,
  useCurvesQuery,
  useScriptsQuery,
  useScriptQuery,
  useSaveScriptMutation,
  useRemoveScriptMutation,
  useRevisionsQuery,
  useLazyRevisionQuery,
  usePreflightMutation,
  useAdditionQuery,
  useEmittedQuery,
  useJobsQuery,
  useStartJobMutation,
  useStopJobMutation,
  useRemoveJobMutation,
  useVerifyJobMutation,
  usePinJobMutation,
  useJobDiffQuery,
  useValueQuery,
  useJobQuery,
  useOutlineQuery,
  usePictureQuery,
  useSampleQuery,
  useReduceQuery,
  useDrawingQuery,
  useGuideQuery,
  useVerdictsQuery,
  useLogLinesQuery,
  useLogMatchQuery,
  usePreviewQuery,
  useRevisionQuery,
  useSettingsQuery,
  useSaveSettingsMutation,
} = api;

type Tags = Parameters<typeof api.util.invalidateTags>[0];
const ALL: Tags = ["Previews", "Settings", "Studies", "Study", "Scripts", "Script", "Jobs", "Job"];

/** What a message of the live stream makes old. */
export function tagsOf(m: s.LiveMessage): Tags {
  // What was missed is not known: everything that is shown is asked for again.
  if ("resync" in m) return ALL;
  if ("state" in m) return ["Jobs"];
  if (!("change" in m)) return [];
  const { resource, id } = m.change;
  if (resource === "study") return ["Studies", "Previews", { type: "Study", id }];
  if (resource === "script") return ["Scripts", { type: "Script", id }];
  if (resource === "job") return ["Jobs", { type: "Job", id: Number(id) }];
  return ["Settings"];
}

/** What went wrong in a request, as a sentence. */
export function errorText(e: unknown): string {
  const error = e as { data?: unknown; error?: string; message?: string; status?: unknown } | undefined;
  const told = s.apiErrorSchema.safeParse(error?.data).data?.error;
  if (told) return told.hint === undefined ? told.message : `${told.message} ${told.hint}`;
  if (error?.status === "FETCH_ERROR") return "The server does not answer.";
  return error?.error ?? error?.message ?? "The server does not answer.";
}
