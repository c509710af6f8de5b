import { serve } from "./browser";
import fs from "node:fs";
import path from "node:path";
import { afterAll, afterEach, beforeAll, expect } from "@jest/globals";
import { makeServer, type Server } from "@oxtrum/server/app";
import { warm } from "@oxtrum/server/testing";
import { smallStudy, type SmallStudy } from "@oxtrum/engine/testing";
import { cleanup, configure, render, waitFor, type RenderResult } from "@testing-library/react";
import { Provider } from "react-redux";
import { createMemoryRouter } from "react-router";
import { RouterProvider } from "react-router/dom";
import type { ComponentType } from "react";
import { api } from "../api";
import { store } from "../store";

/** The server that pages talk to, and its study; there from a file's first test on. */
export let server: Server;
export let small: SmallStudy;

// A busy machine gives slow answers, not other ones.
configure({ asyncUtilTimeout: 60_000 });

/** Starts a server before a file's tests and ends it after them. */
export function startPages(): void {
  beforeAll(async () => {
    small = smallStudy();
    server = await makeServer({ dataFolder: small.data, hosts: ["127.0.0.1"], warm: warm() });
    serve((r) => server.app.request(r));
  });
  afterEach(() => {
    cleanup();
    store.dispatch(api.util.resetApiState());
  });
  afterAll(() => {
    server.close();
    small.remove();
  });
}

/** Adds text to a file of the small study, as a solver does. */
export function append(run: string, file: string, text: string): void {
  fs.appendFileSync(path.join(small.folder, "runs", run, file), text);
}

/** Gives the small study a definition. */
export function define(definition: object): void {
  fs.writeFileSync(path.join(small.folder, "oxtrum.study.json"), JSON.stringify(definition));
}

/** Shows a page at an address, as the application does. */
export function show(Page: ComponentType, route: string, at = route): RenderResult & { address: () => string } {
  const router = createMemoryRouter(
    [
      { path: route, element: <Page /> },
      { path: "*", element: <p>elsewhere</p> },
    ],
    { initialEntries: [at] },
  );
  const shown = render(
    <Provider store={store}>
      <RouterProvider router={router} />
    </Provider>,
  );
  return Object.assign(shown, { address: () => router.state.location.pathname + router.state.location.search });
}

/** Asks the server, beside the page. */
export async function ask(method: string, url: string, body?: unknown): Promise<{ status: number; json: unknown }> {
  const r = await server.app.request(url, {
    method,
    headers: { host: "127.0.0.1:4477", "content-type": "application/json" },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  const text = await r.text();
  return { status: r.status, json: text === "" ? undefined : (JSON.parse(text) as unknown) };
}

/** Waits for the end of a job. */
export async function ended(id: number): Promise<void> {
  await waitFor(
    async () => expect((await ask("GET", `/api/jobs/${id}`)).json).toMatchObject({ endedAt: expect.any(Number) }),
    { timeout: 60_000 },
  );
}
