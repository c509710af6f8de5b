import { append, ask, define, show, small, startPages } from "../../testing/page";
import { beforeAll, describe, expect, it } from "@jest/globals";
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { LivePage } from "./LivePage";

startPages();
const user = userEvent.setup();
const ROUTE = "/studies/:study/live";
beforeAll(async () => {
  const states = { finished: { file: "solver.log", text: "finished" } };
  define({ runs: { case: "case.json" }, states });
  append("f100_d3", "solver.log", "finished\n");
  await ask("POST", "/api/studies", { name: "small", folder: small.folder });
});
const row = async (run: string): Promise<HTMLElement> =>
  within(await screen.findByRole("table", { name: "Runs" })).findByRole("row", { name: new RegExp(run) });
const lasts = (): string[] => [...document.querySelectorAll("[data-last]")].map((e) => e.getAttribute("data-last")!);

describe("the Live page", () => {
  it("shows the state of each run and the last values of those under way, and goes on as files grow", async () => {
    show(LivePage, ROUTE, "/studies/small/live");
    expect((await row("f100_d3")).textContent).toMatch(/finished/);
    expect((await row("f050_d1")).textContent).toMatch(/running/);
    await waitFor(() => expect(lasts()).toHaveLength(5));
    expect(lasts()[0]).toBe("51");
    append("f050_d1", "hall.csv", "101,77.5,1\n102,8");
    await waitFor(() => expect(lasts()[0]).toBe("77.5"));
    append("f050_d1", "solver.log", "finished\n");
    await waitFor(async () => expect((await row("f050_d1")).textContent).toMatch(/finished/));
    // Nobody has chosen runs: a finished one makes room for those under way.
    await waitFor(() => expect(lasts()).toHaveLength(4));
  });

  it("has what is shown in its address, and writes it as a script that the checker accepts", async () => {
    const q = (x: object): string => `q=${encodeURIComponent(JSON.stringify(x))}`;
    const lines = { kind: "lines", file: "solver.log", patterns: ["Time = {time:s} s", "residual {r}"], column: "r" };
    const { address } = show(
      LivePage,
      ROUTE,
      `/studies/small/live?runs=f050_d2&runs=f050_d3&${q({ kind: "table", file: "hall.csv", column: "p" })}&${q({ ...lines, log: true, level: 0.5 })}`,
    );
    await waitFor(() => expect(lasts()).toEqual(["2", "3", "0.00001", "0.00001"]));
    await user.click(screen.getByRole("button", { name: "Do not draw f050_d3" }));
    expect(decodeURIComponent(address())).toContain("runs=f050_d2&");
    await user.click(screen.getByRole("button", { name: "Remove p" }));
    expect(decodeURIComponent(address())).not.toContain('"column":"p"');
    await user.click(screen.getByRole("checkbox", { name: "a chart per run" }));
    expect(address()).toContain("view=each");
    await user.click(screen.getByRole("button", { name: "Put in script" }));
    await waitFor(() => expect(address()).toBe("/scripts/live-r.ts"));
    const { text } = (await ask("GET", "/api/scripts/live-r.ts")).json as { text: string };
    expect(text).toContain('.where({ id: ["f050_d2"] })');
    expect(text).toContain('yScale: "log", marks: [{ y: 0.5, text: "level" }]');
    const checked = (await ask("POST", "/api/scripts/live-r.ts/check", { text })).json as {
      diagnostics: { severity: string; message: string }[];
    };
    expect(checked.diagnostics.filter((d) => d.severity === "error")).toEqual([]);
  });

  it("finds values in a log by clicks on a line's numbers", async () => {
    show(LivePage, ROUTE, "/studies/small/live?runs=f050_d2&none=");
    await user.click(await screen.findByRole("button", { name: "Values from a log" }));
    const kinds = await screen.findByRole("listbox", { name: "Kinds of lines" });
    await user.click(await within(kinds).findByRole("option", { name: /Time = / }));
    const line = screen.getByLabelText("Line");
    await user.click(within(line).getAllByRole("button")[0]!);
    await user.click(screen.getByRole("button", { name: "And another line" }));
    await user.click(await within(kinds).findByRole("option", { name: /residual/ }));
    await user.click(within(screen.getByLabelText("Line")).getAllByRole("button")[0]!);
    await waitFor(() =>
      expect(screen.getByRole("status", { name: "Found" }).textContent).toMatch(
        /2 rows; pattern 1: 2 matches, 0 misses, pattern 2: 2 matches, 0 misses\. Last: Time 1 s, residual 1e-5/,
      ),
    );
    expect(screen.getByRole("button", { name: "Follow residual" })).toBeTruthy();
    await user.selectOptions(screen.getByLabelText("increments"), "Time");
    await waitFor(() =>
      expect(screen.getByRole("status", { name: "Found" }).textContent).toMatch(/Time\.increment 1 s/),
    );
    await user.click(screen.getByRole("button", { name: "Follow 2 values" }));
    await waitFor(() => expect(lasts()).toEqual(["0.00001", "1"]));
  });

  it("says why a quantity cannot be shown, and keeps the others", async () => {
    const q = (x: object): string => `q=${encodeURIComponent(JSON.stringify(x))}`;
    const table = { kind: "table", file: "hall.csv" };
    show(
      LivePage,
      ROUTE,
      `/studies/small/live?runs=f050_d2&${q({ ...table, column: "none" })}&${q({ ...table, column: "T" })}`,
    );
    expect(await screen.findByText(/f050_d2: no column "none"/)).toBeTruthy();
    await waitFor(() => expect(lasts()).toContain("52"));
  });
});
