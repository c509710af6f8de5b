import { append, ask, define, show, small, startPages } from "../../testing/page";
import { beforeAll, describe, expect, it } from "@jest/globals";
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { StudiesPage } from "../StudiesPage";
import { LivePage } from "../live/LivePage";
import { StudyPage } from "./StudyPage";

startPages();
const user = userEvent.setup();
beforeAll(async () => {
  define({ runs: { case: "case.json" } });
  await ask("POST", "/api/studies", { name: "small", folder: small.folder });
});
const row = async (run: string): Promise<HTMLElement> => {
  const runs = await screen.findByRole("region", { name: "Runs" });
  return within(runs).findByRole("row", { name: new RegExp(run) });
};

describe("the study page", () => {
  it("shows what a file holds now once the folder is scanned again", async () => {
    show(StudyPage, "/studies/:study", "/studies/small");
    await waitFor(async () => expect((await row("f050_d1")).textContent).toMatch(/51/));
    append("f050_d1", "hall.csv", "101,777,1\n");
    await user.click(screen.getByRole("button", { name: "Scan again" }));
    await waitFor(async () => expect((await row("f050_d1")).textContent).toMatch(/777/));
  });

  it("marks states where the definition has rules for them, with what decided each", async () => {
    define({ runs: { case: "case.json" }, states: { finished: { file: "solver.log", text: "finished" } } });
    append("f050_d2", "solver.log", "finished\n");
    await ask("POST", "/api/studies/small/scan", {});
    show(StudyPage, "/studies/:study", "/studies/small");
    await waitFor(async () => expect((await row("f050_d2")).textContent).toMatch(/finished/));
    const running = within(await row("f050_d3")).getByTitle(/a file was written/);
    expect(running.textContent).toBe("running");
  });

  it("leads from a log to the values in it", async () => {
    const study = show(StudyPage, "/studies/:study", "/studies/small");
    const link = await screen.findByRole("link", { name: "Values from this log" });
    await user.click(link);
    await waitFor(() => expect(study.address()).toBe("/studies/small/live?log=solver.log"));
    study.unmount();
    show(LivePage, "/studies/:study/live", "/studies/small/live?log=solver.log");
    expect(await screen.findByRole("heading", { name: "Values from a log" })).toBeTruthy();
    const kinds = await screen.findByRole("listbox", { name: "Kinds of lines" });
    expect((await within(kinds).findAllByRole("option")).length).toBeGreaterThan(1);
    expect(screen.getByLabelText<HTMLSelectElement>("file").value).toBe("solver.log");
  });

  it("filters runs by a parameter and tells when none fits", async () => {
    show(StudyPage, "/studies/:study", "/studies/small");
    await row("f050_d1");
    await user.click(screen.getByRole("button", { name: "with problems" }));
    expect(await screen.findByText(/No run fits these filters/)).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Show all" }));
    await row("f050_d1");
  });
});

describe("a study of a name that was there before", () => {
  it("shows its own runs, not those of the study that was removed", async () => {
    await ask("DELETE", "/api/studies/small");
    // The runs' own folder: here they are found without a definition.
    await ask("POST", "/api/studies", { name: "small", folder: `${small.folder}/runs/f050_d1` });
    show(StudiesPage, "/");
    const study = await screen.findByRole("row", { name: /small/ });
    expect(study.textContent).not.toMatch(/\b6\b/);
    await ask("DELETE", "/api/studies/small");
    await ask("POST", "/api/studies", { name: "small", folder: small.folder });
    await ask("POST", "/api/studies/small/scan", {});
    const six = show(StudyPage, "/studies/:study", "/studies/small");
    expect(await within(six.container).findByRole("heading", { name: /6 runs/ })).toBeTruthy();
  });
});
