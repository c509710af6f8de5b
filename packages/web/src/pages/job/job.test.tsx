import { append, ask, define, ended, show, small, startPages } from "../../testing/page";
import { beforeAll, describe, expect, it } from "@jest/globals";
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { JobPage } from "./JobPage";

startPages();
const user = userEvent.setup();
const SCRIPT = `import { study, emit } from "oxtrum";
const runs = study("small").runs;
const peaks = runs.rows((run) => ({ door: run.params.door, peak: run.table("hall.csv").max("T") }));
emit.table("peaks", peaks);
emit.value("warmest", peaks.max("peak"));
emit.check("cool", peaks.max("peak"), { below: "90 K" });
emit.text("remark", "all doors were open");
emit.text("second remark", "and closed again");
`;
let job: number;
beforeAll(async () => {
  await ask("POST", "/api/studies", { name: "small", folder: small.folder });
  const made = await ask("POST", "/api/jobs", { script: "peaks.ts", text: SCRIPT, mode: "run" });
  job = (made.json as { id: number }).id;
  await ended(job);
});
const open = (): ReturnType<typeof show> => show(JobPage, "/jobs/:job", `/jobs/${job}`);
const outputs = async (): Promise<HTMLElement> => screen.findByRole("region", { name: "Outputs" });
const shown = (): string[] => screen.getAllByRole("article").map((a) => a.getAttribute("aria-label")!);

describe("the job page", () => {
  it("shows what came out, checks and values first", async () => {
    open();
    expect(await screen.findByRole("heading", { name: "Done" })).toBeTruthy();
    await outputs();
    expect(shown()).toEqual(["warmest", "cool", "peaks", "remark", "second remark"]);
    const check = screen.getByRole("article", { name: "cool" });
    expect(check.textContent).toMatch(/103 K/);
    expect(check.textContent).toMatch(/< 90 K/);
  });

  it("filters outputs by kind and by name, and says when nothing is like that", async () => {
    open();
    const kinds = await screen.findByRole("toolbar", { name: "Kinds of outputs" });
    await user.click(within(kinds).getByRole("button", { name: /^text/ }));
    await waitFor(() => expect(shown()).toEqual(["remark", "second remark"]));
    // Nothing has a place here: a click would be on the bar between the panels.
    screen.getByLabelText("Part of the name").focus();
    await user.keyboard("second");
    await waitFor(() => expect(shown()).toEqual(["second remark"]));
    await user.keyboard(" none");
    await user.click(await screen.findByRole("button", { name: "Show all" }));
    await waitFor(() => expect(shown()).toHaveLength(5));
  });

  it("shows outputs as a list, chosen with an arrow key", async () => {
    open();
    const ways = await screen.findByRole("radiogroup", { name: "How outputs are shown" });
    within(ways).getByRole("radio", { name: "Gallery" }).focus();
    await user.keyboard("{ArrowRight}{ }");
    await waitFor(() =>
      expect(within(ways).getByRole("radio", { name: "List" }).getAttribute("aria-checked")).toBe("true"),
    );
    expect(screen.queryAllByRole("article")).toEqual([]);
    expect((await outputs()).textContent).toMatch(/second remark/);
  });

  it("opens one output large, with its line, and steps to the next with an arrow", async () => {
    open();
    await user.click(await screen.findByRole("button", { name: /peaks.*large|Open peaks/i }));
    const dialog = await screen.findByRole("dialog", { name: "peaks" });
    expect(within(dialog).getByText("peaks.ts:4")).toBeTruthy();
    expect(dialog.textContent).toMatch(/emit\.table\("peaks", peaks\)/);
    expect(dialog.textContent).toMatch(/f050_d1, f050_d2/);
    fireEvent.keyDown(window, { key: "ArrowRight" });
    expect(await screen.findByRole("dialog", { name: "remark" })).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Close" }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  });

  it("verifies its outputs when asked", async () => {
    open();
    await user.click(await screen.findByRole("button", { name: "Verify" }));
    await waitFor(async () => expect((await outputs()).textContent).toMatch(/same|unchanged|holds/i));
  });

  it("is the reference of its script once it is made so, for everybody", async () => {
    open();
    await user.click(await screen.findByRole("button", { name: "Make reference" }));
    expect((await screen.findByRole("button", { name: "Reference" })).getAttribute("aria-pressed")).toBe("true");
    expect((await ask("GET", `/api/jobs/${job}`)).json).toMatchObject({ reference: job });
  });

  it("tells the states of runs beside them, where the study has rules for states", async () => {
    define({ runs: { case: "case.json" }, states: { finished: { file: "solver.log", text: "finished" } } });
    append("f050_d1", "solver.log", "finished\n");
    await ask("POST", "/api/studies/small/scan", {});
    open();
    const grid = await screen.findByRole("grid", { name: "Runs and lines" });
    const row = (run: string): HTMLElement =>
      within(grid)
        .getAllByRole("row")
        .find((r) => r.querySelector(`[title="${run}"]`))!;
    await waitFor(() => expect(row("f050_d1").textContent).toMatch(/finished/));
    expect(row("f050_d2").textContent).toMatch(/running/);
    expect(within(row("f050_d2")).getByTitle(/^running: a file was written/)).toBeTruthy();
  });

  it("says that there is no such job", async () => {
    show(JobPage, "/jobs/:job", "/jobs/4711");
    expect((await screen.findByRole("alert")).textContent).toMatch(/no job 4711/i);
    expect(screen.getByRole("link", { name: "To the scripts" })).toBeTruthy();
  });
});
