import fs from "node:fs";
import path from "node:path";
import { describe, expect, it } from "@jest/globals";
import { s, server, useServer, ask } from "./testing/use-server.js";

useServer();

/** A run more, in the study of these tests. */
function addRun(name: string): void {
  fs.cpSync(path.join(s.folder, "runs/f050_d1"), path.join(s.folder, "runs", name), { recursive: true });
}
const runs = async (scan: Promise<{ catalogue: { runs: readonly { id: string }[] } }>): Promise<string[]> =>
  (await scan).catalogue.runs.map((r) => r.id);

describe("a scan that is asked for", () => {
  it("has all that was there when it was asked for, also while another one is under way", async () => {
    await ask("POST", "/api/studies", { name: "small", folder: s.folder });
    const { studies } = server;
    await studies.get("small");
    for (let k = 0; k < 5; k++) {
      // The first may or may not see what comes while it looks; the others have to.
      const first = studies.get("small", true);
      await new Promise((later) => setTimeout(later, 3 * k));
      addRun(`late${k}`);
      const [second, third] = [studies.get("small", true), studies.get("small", true)];
      await first;
      expect(await runs(second)).toContain(`late${k}`);
      expect(await runs(third)).toContain(`late${k}`);
      expect(await runs(studies.get("small"))).toContain(`late${k}`);
    }
  });
  it("is one for all who ask while another one is under way, and none is left behind", async () => {
    const { studies } = server;
    const asked = Array.from({ length: 20 }, () => studies.get("small", true));
    const began = new Set((await Promise.all(asked)).map((known) => known.scanBegan));
    expect(began.size).toBeLessThanOrEqual(2);
    const before = (await studies.get("small")).scanBegan;
    await new Promise((later) => setTimeout(later, 20));
    expect((await studies.get("small", true)).scanBegan).toBeGreaterThan(before);
  });
  it("fails for each who asked, and is there again once the folder is", async () => {
    const { studies } = server;
    fs.renameSync(s.folder, `${s.folder}-away`);
    const asked = await Promise.allSettled([1, 2, 3].map(() => studies.get("small", true)));
    expect(asked.map((a) => a.status)).toEqual(["rejected", "rejected", "rejected"]);
    fs.renameSync(`${s.folder}-away`, s.folder);
    expect(await runs(studies.get("small", true))).toContain("f050_d1");
  });
});
