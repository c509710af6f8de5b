import { ask, ended, show, small, startPages } from "../../testing/page";
import { beforeAll, describe, expect, it } from "@jest/globals";
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { CompareOutputPage } from "./CompareOutputPage";
import { ComparePage } from "./ComparePage";

startPages();
const user = userEvent.setup();
beforeAll(async () => {
  await ask("POST", "/api/studies", { name: "small", folder: small.folder });
});
const ROUTE = "/studies/:study/compare";
const AT = "/studies/small/compare?file=hall.csv&column=T";
const tab = (name: string): Promise<HTMLElement> => screen.findByRole("tab", { name });
const errors = async (name: string): Promise<unknown[]> => {
  const { text } = (await ask("GET", `/api/scripts/${name}`)).json as { text: string };
  const checked = (await ask("POST", `/api/scripts/${name}/check`, { text })).json as {
    diagnostics: { severity: string; message: string }[];
  };
  return checked.diagnostics.filter((d) => d.severity === "error");
};
const text = async (name: string): Promise<string> =>
  ((await ask("GET", `/api/scripts/${name}`)).json as { text: string }).text;

describe("the compare page", () => {
  it("goes from view to view with the arrow keys, and keeps the view in its address", async () => {
    const { address } = show(ComparePage, ROUTE, AT);
    (await tab("Overlay")).focus();
    await user.keyboard("{ArrowRight}");
    await waitFor(() => expect(address()).toMatch(/view=/));
    const chosen = screen.getAllByRole("tab").filter((t) => t.getAttribute("aria-selected") === "true");
    expect(chosen).toHaveLength(1);
    expect(chosen[0]!.textContent).not.toBe("Overlay");
  });

  it("asks for a baseline before it shows differences", async () => {
    // The first run is the baseline until one chooses; these are others.
    show(ComparePage, ROUTE, `${AT}&view=difference&where=fan:100`);
    expect(await screen.findByText("Choose a run among these as the baseline.")).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Put in script" }).disabled).toBe(true);
    await user.selectOptions(screen.getByLabelText("baseline"), "f100_d1");
    await waitFor(() => expect(screen.queryByText("Choose a run among these as the baseline.")).toBeNull());
  });

  it("narrows the runs by parameters, and says when none fits", async () => {
    show(ComparePage, ROUTE, AT);
    const fan = await screen.findByRole("group", { name: "fan" });
    await user.click(within(fan).getByRole("button", { name: "50" }));
    expect(await screen.findByText("3 of 6 runs")).toBeTruthy();
    expect(within(screen.getByRole("group", { name: "Runs" })).getAllByRole("button")).toHaveLength(3);
  });

  it("writes each of its views as a script that the checker accepts, each under a name of its own", async () => {
    const made: string[] = [];
    for (const view of ["overlay", "band", "parameter", "correlation", "ranking"]) {
      const page = show(ComparePage, ROUTE, `${AT}&view=${view}&parameter=door`);
      const button = await screen.findByRole<HTMLButtonElement>("button", { name: "Put in script" });
      await waitFor(() => expect(button.disabled).toBe(false));
      await user.click(button);
      await waitFor(() => expect(page.address()).toMatch(/^\/scripts\//));
      made.push(decodeURIComponent(page.address().slice("/scripts/".length)));
      page.unmount();
    }
    expect(new Set(made).size).toBe(5);
    for (const name of made) expect([name, await errors(name)]).toEqual([name, []]);
  });
});

describe("an output that is compared", () => {
  const FIRST = `import { study, emit } from "oxtrum";
const results = study("small").runs.rows((run) => ({ door: run.params.door, peak: run.table("hall.csv").max("T") }));
emit.table("peaks", results);
`;
  it("goes below the script as it is now: what was written since the job is kept", async () => {
    const { json } = await ask("POST", "/api/jobs", { script: "made.ts", text: FIRST, mode: "run" });
    const { id } = json as { id: number };
    await ended(id);
    const later = `${FIRST}const chart = 3; // mine\n`;
    await ask("PUT", "/api/scripts/made.ts", { text: later });
    const { address } = show(CompareOutputPage, "/jobs/:job/compare", `/jobs/${id}/compare?output=peaks&column=peak`);
    const button = await screen.findByRole<HTMLButtonElement>("button", { name: "Put in script" });
    await waitFor(() => expect(button.disabled).toBe(false));
    await user.click(button);
    await waitFor(() => expect(address()).toBe("/scripts/made.ts"));
    const now = await text("made.ts");
    expect(now).toContain("const chart = 3; // mine");
    expect(now).toContain("chart as chart2");
    expect(await errors("made.ts")).toEqual([]);
  });

  it("that is made in a loop is refused, with what to do", async () => {
    const inLoop = FIRST.replace(
      'emit.table("peaks", results);',
      'for (const k of [1]) emit.table("peaks", results.head(6 * k));',
    );
    const { json } = await ask("POST", "/api/jobs", { script: "loop.ts", text: inLoop, mode: "run" });
    const { id } = json as { id: number };
    await ended(id);
    show(CompareOutputPage, "/jobs/:job/compare", `/jobs/${id}/compare?output=peaks&column=peak`);
    expect((await screen.findByRole("alert")).textContent).toMatch(/inside a loop or a function; give it a name/);
  });
});
