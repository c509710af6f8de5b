import { HTTPException } from "hono/http-exception";

/** An answer that says what was wrong with the request, or why it cannot be answered now. */
export function problem(
  status: 400 | 401 | 403 | 404 | 409 | 413 | 415 | 429 | 500 | 503 | 507,
  message: string,
): HTTPException {
  return new HTTPException(status, { message });
}
