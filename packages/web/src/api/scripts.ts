import type { z } from "zod";
import * as s from "@oxtrum/contract";
import { base, checked, enc } from "./base";

/** Scripts, their revisions, and what lines of them give. */
export const scriptsApi = base.injectEndpoints({
  endpoints: (b) => ({
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
    preview: b.query<s.Preview, { text: string; script?: string | undefined; lane: string }>({
      query: (body) => ({ url: "previews", method: "POST", body }),
      transformResponse: checked(s.previewSchema),
      providesTags: ["Previews"],
      keepUnusedDataFor: 300,
    }),
  }),
});

export const {
  useScriptsQuery,
  useScriptQuery,
  useSaveScriptMutation,
  useRemoveScriptMutation,
  useRevisionsQuery,
  useLazyRevisionQuery,
  usePreflightMutation,
  useAdditionQuery,
  useEmittedQuery,
  usePreviewQuery,
  useRevisionQuery,
} = scriptsApi;
