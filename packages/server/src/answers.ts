import type { Context, ErrorHandler, MiddlewareHandler } from "hono";
import { HTTPException } from "hono/http-exception";
import { validator } from "hono/validator";
import { diskReason, isDiskError } from "@oxtrum/engine";
import type { ZodType, z } from "zod";
import { report } from "./background.js";
import { databaseReason, isDatabaseError } from "./store/database.js";
import { errorAnswer, moreOf, problem } from "./store/problem.js";

/**
 * Every error as the page gets it. What is ours to mend is told on the terminal; its words, paths and statements stay
 * there.
 */
export const onError: ErrorHandler = (e, c) => {
  if (e instanceof HTTPException)
    return c.json(errorAnswer(e.status, e.message || "This request cannot be answered.", moreOf(e)), e.status);
  if (isDatabaseError(e)) {
    report(`${c.req.method} ${c.req.path}`, e);
    return c.json(errorAnswer(507, `The server's database cannot be used: ${databaseReason(e)}.`), 507);
  }
  if (isDiskError(e)) {
    report(`${c.req.method} ${c.req.path}`, e);
    return c.json(errorAnswer(507, `The server cannot read or write its files: ${diskReason(e)}.`), 507);
  }
  report(`${c.req.method} ${c.req.path}`, e);
  return c.json(errorAnswer(500, "Something went wrong in the server; its terminal says what. Please report it."), 500);
};

/** A body or query that has to fit a schema. What does not is answered with what is wrong where. */
export function valid<Target extends "json" | "query" | "param", S extends ZodType>(target: Target, schema: S) {
  return validator(target, (given: unknown): z.output<S> => {
    const parsed = schema.safeParse(given);
    if (parsed.success) return parsed.data;
    const [issue] = parsed.error.issues;
    const where = issue!.path.map(String).join(".");
    throw problem(400, `${where === "" ? "The request" : where}: ${issue!.message}`, where === "" ? {} : { where });
  });
}

const MB = 1024 * 1024;
export const MOST_BODY = 4 * MB;

/** The strictest policy with which the application works: all from this server, nothing in a frame. */
const policy = [
  "default-src 'none'",
  "script-src 'self'",
  // Parts of the interface set styles on elements.
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' data: blob:",
  "font-src 'self' data:",
  "connect-src 'self'",
  "worker-src 'self'",
  "frame-src 'self'",
  "manifest-src 'self'",
  "base-uri 'none'",
  "form-action 'none'",
  "frame-ancestors 'none'",
].join("; ");

/** What a job made is shown without any power; a report may stand in a frame of the application. */
export const outputPolicy =
  "default-src 'none'; img-src data:; font-src data:; style-src 'unsafe-inline'; sandbox; frame-ancestors 'self'";

/** Headers of every answer. */
export const secureHeaders: MiddlewareHandler = async (c, next) => {
  await next();
  const set = (name: string, value: string): void => {
    if (!c.res.headers.has(name)) c.res.headers.set(name, value);
  };
  set("x-content-type-options", "nosniff");
  set("content-security-policy", policy);
  set("referrer-policy", "no-referrer");
  set("cross-origin-opener-policy", "same-origin");
  set("cross-origin-resource-policy", "same-origin");
  if (c.req.path.startsWith("/api/")) set("cache-control", "no-store");
};

/** Answers that a browser keeps as a file. */
export const download = (c: Context, name: string): void =>
  c.header("content-disposition", `attachment; filename*=UTF-8''${encodeURIComponent(name)}`);
