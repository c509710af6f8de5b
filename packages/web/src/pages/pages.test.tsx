import { ask, ended, show, small, startPages } from "../testing/page";
import { describe, expect, it } from "@jest/globals";
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { SignIn } from "../connection/SignIn";
import { browserDrafts } from "../drafts/draft-store";
import { GuidePage } from "./GuidePage";
import { JobsPage } from "./JobsPage";
import { ScriptsPage } from "./ScriptsPage";
import { SettingsPage } from "./settings/SettingsPage";
import { StudiesPage } from "./StudiesPage";

/** Pages against the true server, in one process. */
startPages();
const user = userEvent.setup();

describe("the studies page", () => {
  it("adds a folder as a study, and says why one cannot be added", async () => {
    show(StudiesPage, "/");
    await user.click((await screen.findAllByRole("button", { name: "Add study" }))[0]!);
    const form = screen.getByRole("form", { name: "Add study" });
    await user.type(within(form).getByLabelText(/Folder/), "/no/such/folder");
    const name = within(form).getByLabelText(/Name/);
    await user.clear(name);
    await user.type(name, "small");
    await user.click(within(form).getByRole("button", { name: "Add" }));
    expect((await within(form).findByRole("alert")).textContent).toMatch(/There is no folder \/no\/such\/folder/);
    await user.clear(within(form).getByLabelText(/Folder/));
    await user.type(within(form).getByLabelText(/Folder/), small.folder);
    await user.clear(name);
    await user.type(name, "small");
    await user.click(within(form).getByRole("button", { name: "Add" }));
    await waitFor(async () => expect((await ask("GET", "/api/studies")).json).toMatchObject([{ name: "small" }]));
  });
});

describe("the scripts page", () => {
  it("lists scripts, makes a new one, and removes one only when asked twice", async () => {
    await ask("PUT", "/api/scripts/a.ts", { text: "// a\n" });
    const { address } = show(ScriptsPage, "/scripts");
    const row = await screen.findByRole("row", { name: /a\.ts/ });
    await user.click(within(row).getByRole("button", { name: "Remove" }));
    await user.click(within(row).getByRole("button", { name: "Keep" }));
    expect((await ask("GET", "/api/scripts/a.ts")).status).toBe(200);
    await user.click(within(row).getByRole("button", { name: "Remove" }));
    await user.click(within(row).getByRole("button", { name: "Remove" }));
    await waitFor(() => expect(screen.queryByRole("row", { name: /a\.ts/ })).toBeNull());
    expect((await ask("GET", "/api/scripts/a.ts")).status).toBe(404);
    await user.click(screen.getAllByRole("button", { name: "New script" })[0]!);
    await user.type(screen.getByPlaceholderText("recovery.ts"), "fresh");
    await user.click(screen.getByRole("button", { name: "Start" }));
    await waitFor(() => expect(address()).toBe("/scripts/fresh.ts"));
    expect((await ask("GET", "/api/scripts/fresh.ts")).json).toMatchObject({ revision: 1 });
  });
});

describe("a new script", () => {
  const start = async (name: string): Promise<void> => {
    await user.clear(await screen.findByPlaceholderText("recovery.ts"));
    if (name !== "") await user.type(screen.getByPlaceholderText("recovery.ts"), name);
    await user.click(screen.getByRole("button", { name: "Start" }));
  };
  it("needs a name that a file can have", async () => {
    show(ScriptsPage, "/scripts", "/scripts?new");
    await start("");
    expect((await screen.findByRole("alert")).textContent).toBe("Enter a name.");
    await start("../secret");
    await waitFor(() => expect(screen.getByRole("alert").textContent).toMatch(/letters, digits, dots and dashes/));
  });
  it("of a name that is there is that script, as it is", async () => {
    await ask("PUT", "/api/scripts/there.ts", { text: "// what I wrote\n" });
    const { address } = show(ScriptsPage, "/scripts", "/scripts?new");
    await screen.findByRole("row", { name: /there\.ts/ });
    await start("there");
    await waitFor(() => expect(address()).toBe("/scripts/there.ts"));
    expect((await ask("GET", "/api/scripts/there.ts")).json).toMatchObject({ text: "// what I wrote\n", revision: 1 });
  });
});

describe("a text that this browser keeps and the server has not", () => {
  it("is told on the scripts page, until it is saved", async () => {
    await ask("PUT", "/api/scripts/kept.ts", { text: "// saved\n" });
    await browserDrafts.put({ script: "kept.ts", text: "// typed\n", base: 1, baseText: "// saved\n", at: 0 });
    const first = show(ScriptsPage, "/scripts");
    const row = await screen.findByRole("row", { name: /kept\.ts/ });
    await waitFor(() => expect(row.textContent).toMatch(/draft in this browser, not saved/));
    first.unmount();
    await browserDrafts.remove("kept.ts");
    show(ScriptsPage, "/scripts");
    expect((await screen.findByRole("row", { name: /kept\.ts/ })).textContent).not.toMatch(/draft/);
  });
});

describe("the jobs page", () => {
  it("filters by what is chosen, keeps it in the address, and removes a job with its outputs", async () => {
    const ids: number[] = [];
    for (const name of ["one.ts", "two.ts"]) {
      const text = `import { emit } from "oxtrum";\nemit.text("a", ${JSON.stringify(name)});\n`;
      const { json } = await ask("POST", "/api/jobs", { script: name, text, mode: "run" });
      ids.push((json as { id: number }).id);
    }
    for (const id of ids) await ended(id);
    const { address } = show(JobsPage, "/jobs");
    expect(await screen.findByRole("link", { name: "one.ts" })).toBeTruthy();
    await user.selectOptions(screen.getByLabelText("Script"), "two.ts");
    expect(address()).toBe("/jobs?script=two.ts");
    expect(screen.queryByRole("link", { name: "one.ts" })).toBeNull();
    await user.click(screen.getByRole("button", { name: `Remove job ${ids[1]!}` }));
    await user.click(screen.getByRole("button", { name: "Remove job and outputs" }));
    await waitFor(() => expect(screen.queryByRole("link", { name: "two.ts" })).toBeNull());
    expect((await ask("GET", `/api/jobs/${ids[1]!}`)).status).toBe(404);
  });

  it("opens at what its address says", async () => {
    show(JobsPage, "/jobs", "/jobs?state=failed");
    expect(await screen.findByText("No job fits these choices")).toBeTruthy();
    expect(screen.getByLabelText<HTMLSelectElement>("State").value).toBe("failed");
  });
});

describe("the settings page", () => {
  it("refuses what is not a number or outside the limits, keeps what is typed, and saves what is right", async () => {
    show(SettingsPage, "/settings");
    const memory = await screen.findByLabelText<HTMLInputElement>(/Array memory limit/);
    await user.clear(memory);
    await user.type(memory, "many");
    await user.click(screen.getByRole("button", { name: "Save" }));
    expect(await screen.findByText("a whole number")).toBeTruthy();
    await user.clear(memory);
    await user.type(memory, "5");
    expect(await screen.findByText(/>=100/)).toBeTruthy();
    // Somebody else saves other settings meanwhile.
    await user.clear(memory);
    await user.type(memory, "3000");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(async () => expect((await ask("GET", "/api/settings")).json).toMatchObject({ memory: 3000 }));
    expect(memory.value).toBe("3000");
  });

  it("turns words of the house style into a style, and says what a wrong one should look like", async () => {
    show(SettingsPage, "/settings");
    const digits = await screen.findByLabelText<HTMLInputElement>(/Digits by unit/);
    await user.type(digits, "degC three");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(digits.getAttribute("aria-invalid")).toBe("true"));
    await user.clear(digits);
    await user.type(digits, "degC 3, kW 4");
    await user.type(screen.getByLabelText(/Series colours/), "#112233, #445566");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(async () =>
      expect((await ask("GET", "/api/settings")).json).toMatchObject({
        style: { digits: { degC: 3, kW: 4 }, colors: ["#112233", "#445566"] },
      }),
    );
    expect(await screen.findByText("Saved. Jobs take it from their start.")).toBeTruthy();
  });
});

describe("the guide", () => {
  it("is found by word, and says when nothing has it", async () => {
    show(GuidePage, "/guide");
    const find = await screen.findByLabelText("Find in the guide");
    await user.type(find, "percentile");
    expect(await screen.findByRole("heading", { name: "percentiles" })).toBeTruthy();
    expect(screen.queryByRole("heading", { name: "spectrum" })).toBeNull();
    await user.type(find, " xyz");
    expect(await screen.findByText(/holds this word/)).toBeTruthy();
  });
});

describe("signing in", () => {
  it("needs a token", async () => {
    show(SignIn, "/");
    await user.click(screen.getByRole("button", { name: "Sign in" }));
    expect(await screen.findByText("Enter the token.")).toBeTruthy();
  });
});
