import { createHash, createHmac, timingSafeEqual } from "node:crypto";
import type { Context, MiddlewareHandler } from "hono";
import { deleteCookie, getCookie, setCookie } from "hono/cookie";
import { problem } from "./store/problem.js";

/** Compares two texts in a time that tells nothing of where they differ. */
function sameText(a: string, b: string): boolean {
  const digest = (t: string): Buffer => createHash("sha256").update(t).digest();
  return timingSafeEqual(digest(a), digest(b));
}

const COOKIE = "oxtrum_session";
const MONTH = 30 * 24 * 3600;
/** Wrong tokens within a minute before no more are looked at. */
const MOST_WRONG = 10;
const MINUTE = 60_000;

export interface AccessOptions {
  /**
   * Names under which the server may be called; others are refused, so that no web page can reach it by another name.
   */
  readonly hosts: readonly string[];
  /** Asked of every request when the server can be reached from other machines. */
  readonly token?: string | undefined;
}

/** Who may call: by the name of this machine, from its own pages, and, where there is a token, who has shown it. */
export class Access {
  /** What a browser keeps: made of the token, so that it holds after a restart, but not the token itself. */
  readonly #session: string | undefined;
  #wrong: number[] = [];

  constructor(private readonly options: AccessOptions) {
    const { token } = options;
    this.#session =
      token === undefined ? undefined : createHmac("sha256", token).update("oxtrum session").digest("hex");
  }

  get asksForToken(): boolean {
    return this.options.token !== undefined;
  }

  /** Refuses calls by another name, and changes asked for by pages of others. */
  readonly origin: MiddlewareHandler = async (c, next) => {
    const { hosts } = this.options;
    const given = c.req.header("host") ?? "";
    const host = given.replace(/:\d+$/, "").replace(/^\[|\]$/g, "");
    if (!hosts.includes("*") && !hosts.includes(host))
      throw problem(403, "This server is not to be called by that name.");
    const origin = c.req.header("origin");
    if (c.req.method !== "GET" && c.req.method !== "HEAD" && origin !== undefined && hostOf(origin) !== given)
      throw problem(403, "Another page may not change anything here.");
    await next();
  };

  /** Refuses who has not shown the token. */
  readonly token: MiddlewareHandler = async (c, next) => {
    if (!this.signedIn(c)) throw problem(401, "This server asks for its token: sign in first.");
    await next();
  };

  signedIn(c: Context): boolean {
    const { token } = this.options;
    if (token === undefined || this.#session === undefined) return true;
    const bearer = /^Bearer (.+)$/.exec(c.req.header("authorization") ?? "")?.[1];
    if (bearer !== undefined) return this.#isToken(bearer);
    const cookie = getCookie(c, COOKIE);
    return cookie !== undefined && sameText(cookie, this.#session);
  }

  /** Takes the token once and gives the browser its cookie, which no script of a page can read. */
  signIn(c: Context, token: string): void {
    if (this.#session === undefined) return;
    if (!this.#isToken(token)) throw problem(401, "That is not this server's token.");
    setCookie(c, COOKIE, this.#session, { httpOnly: true, sameSite: "Strict", path: "/", maxAge: MONTH });
  }

  signOut(c: Context): void {
    deleteCookie(c, COOKIE, { path: "/" });
  }

  #isToken(given: string): boolean {
    const now = Date.now();
    this.#wrong = this.#wrong.filter((t) => now - t < MINUTE);
    if (this.#wrong.length >= MOST_WRONG) throw problem(429, "Too many wrong tokens; wait a minute.");
    const right = sameText(given, this.options.token!);
    if (!right) this.#wrong.push(now);
    return right;
  }
}

/** The host of an origin; undefined for `null` and what is none. */
function hostOf(origin: string): string | undefined {
  try {
    return new URL(origin).host;
  } catch {
    return undefined;
  }
}
