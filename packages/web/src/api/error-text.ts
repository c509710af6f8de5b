import * as s from "@oxtrum/contract";

/** What went wrong in a request, as a sentence. */
export function errorText(e: unknown): string {
  const error = e as { data?: unknown; error?: string; message?: string; status?: unknown } | undefined;
  const told = s.apiErrorSchema.safeParse(error?.data).data?.error;
  if (told) return told.hint === undefined ? told.message : `${told.message} ${told.hint}`;
  if (error?.status === "FETCH_ERROR") return "The server does not answer.";
  return error?.error ?? error?.message ?? "The server does not answer.";
}
