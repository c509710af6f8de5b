import { z } from "zod";

/** What kind of error it is; the HTTP status says the same in fewer words. */
export const errorCodes = [
  "invalid",
  "unauthorized",
  "forbidden",
  "not found",
  "conflict",
  "too large",
  "unavailable",
  "storage",
  "internal",
] as const;
export type ErrorCode = (typeof errorCodes)[number];

/**
 * The one shape of every error that the server answers with.
 *
 * @example
 *   { "error": { "code": "not found", "message": "There is no script \"a.ts\"." } }
 */
export const apiErrorSchema = z.object({
  error: z.object({
    code: z.enum(errorCodes),
    message: z.string(),
    /** The field of the request that is wrong, or the resource. */
    where: z.string().optional(),
    hint: z.string().optional(),
    /** Of a conflict: the version that the resource has now. */
    version: z.number().optional(),
  }),
});
export type ApiError = z.infer<typeof apiErrorSchema>;

/** The code of an HTTP status. */
export function errorCodeOf(status: number): ErrorCode {
  if (status === 401) return "unauthorized";
  if (status === 403) return "forbidden";
  if (status === 404) return "not found";
  if (status === 409) return "conflict";
  if (status === 413) return "too large";
  if (status === 503) return "unavailable";
  if (status === 507) return "storage";
  return status >= 400 && status < 500 ? "invalid" : "internal";
}
