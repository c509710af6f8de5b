import type { z } from "zod";
import * as s from "@oxtrum/contract";
import { base, checked } from "./base";

/** The server itself: who may ask it, its guide, its settings. */
export const serverApi = base.injectEndpoints({
  endpoints: (b) => ({
    signIn: b.mutation<unknown, string>({
      query: (token) => ({ url: "session", method: "POST", body: { token } }),
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
  }),
});

export const { useSignInMutation, useGuideQuery, useSettingsQuery, useSaveSettingsMutation } = serverApi;
