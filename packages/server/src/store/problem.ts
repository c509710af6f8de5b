import { HTTPException } from "hono/http-exception";

/** An answer that says what was wrong with the request. */
export function problem(status: 400 | 403 | 404 | 409 | 413, message: string): HTTPException {
  return new HTTPException(status, { message });
}
