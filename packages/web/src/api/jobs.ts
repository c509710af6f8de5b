import type { z } from "zod";
import * as s from "@oxtrum/contract";
import { listenLive } from "../connection/live-stream";
import { base, checked, enc } from "./base";

type JobMessage = Extract<s.LiveMessage, { job: number }>;

interface KeptJob {
  /** Done once it is there, and once no page shows it any more. */
  readonly shown: Promise<unknown>;
  readonly left: Promise<unknown>;
  /** How many events it knows of. */
  seq(): number;
  change(how: (job: z.infer<typeof s.jobSchema>) => void): void;
  askAgain(): void;
}

function take(m: JobMessage, kept: KeptJob): void {
  // Something was missed on the way: ask for the whole again.
  if ("events" in m && m.after > kept.seq()) return kept.askAgain();
  kept.change((d) => {
    if ("state" in m) d.state = m.state;
    else
      m.events.forEach((e, k) => {
        if (m.after + k >= d.live.seq) s.applyEvent(d.live, e);
      });
  });
  if ("state" in m && m.state !== "running" && m.state !== "waiting") kept.askAgain();
}

/** Keeps a job as the live stream tells it, for as long as a page shows it. */
async function followJob(id: number, kept: KeptJob): Promise<void> {
  const early: JobMessage[] = [];
  let loaded = false;
  const unlisten = listenLive((m) => {
    if (!("job" in m) || m.job !== id) return;
    if (loaded) take(m, kept);
    else early.push(m);
  });
  try {
    await kept.shown;
    loaded = true;
    for (const m of early) take(m, kept);
    await kept.left;
  } finally {
    unlisten();
  }
}

/** Jobs and what they made. */
export const jobsApi = base.injectEndpoints({
  endpoints: (b) => ({
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
      onCacheEntryAdded: (id, kept) =>
        followJob(id, {
          shown: kept.cacheDataLoaded,
          left: kept.cacheEntryRemoved,
          seq: () => kept.getCacheEntry().data?.live.seq ?? 0,
          change: kept.updateCachedData,
          askAgain: () => kept.dispatch(base.util.invalidateTags([{ type: "Job", id }])),
        }),
    }),
  }),
});

export const {
  useJobsQuery,
  useStartJobMutation,
  useStopJobMutation,
  useRemoveJobMutation,
  useVerifyJobMutation,
  usePinJobMutation,
  useJobDiffQuery,
  useValueQuery,
  useJobQuery,
} = jobsApi;
