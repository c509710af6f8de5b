import { errorCodeOf, type ApiError } from "@oxtrum/contract";
import { HTTPException } from "hono/http-exception";

type Status = 400 | 401 | 403 | 404 | 409 | 413 | 415 | 429 | 500 | 503 | 507;
type More = Omit<ApiError["error"], "code" | "message">;

/** An answer that says what was wrong with the request, or why it cannot be answered now. */
export function problem(status: Status, message: string, more: More = {}): HTTPException {
  return new HTTPException(status, { message, cause: more });
}

/** An error as it is answered. */
export function errorAnswer(status: number, message: string, more: More = {}): ApiError {
  return { error: { code: errorCodeOf(status), message, ...more } };
}

/** What a {@link problem} says besides its message. */
export const moreOf = (e: HTTPException): More => (e.cause ?? {}) as More;
