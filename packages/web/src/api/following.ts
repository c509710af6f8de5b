import type { z } from "zod";
import * as s from "@oxtrum/contract";
import { base, checked, enc } from "./base";

/** Runs as they are computed: values under way, and lines of logs. */
export const followingApi = base.injectEndpoints({
  endpoints: (b) => ({
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
  }),
});

export const { useLogLinesQuery, useLogMatchQuery } = followingApi;
