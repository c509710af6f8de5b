import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { brotliCompressSync, brotliDecompressSync } from "node:zlib";
import { afterAll, expect, test } from "@jest/globals";
import { Hono } from "hono";
import { serveWebFiles } from "./web-files.js";

const SCRIPT = `export const words = "${"kept ".repeat(200)}";`;

const made: string[] = [];
afterAll(() => made.forEach((folder) => fs.rmSync(folder, { recursive: true })));

function built(): { app: Hono; folder: string } {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-web-"));
  made.push(folder);
  fs.mkdirSync(path.join(folder, "assets"));
  fs.writeFileSync(path.join(folder, "index.html"), "<head></head><p>pages</p>");
  fs.writeFileSync(path.join(folder, "icon.svg"), "<svg/>");
  fs.writeFileSync(path.join(folder, "assets/main-1a2b.js"), SCRIPT);
  fs.writeFileSync(path.join(folder, "assets/main-1a2b.js.br"), brotliCompressSync(SCRIPT));
  const app = new Hono();
  serveWebFiles(app, folder, () => "a1.7");
  return { app, folder };
}

test("a file with its hash in its name is read once, and kept by the browser", async () => {
  const { app, folder } = built();
  const ask = (): Promise<Response> => Promise.resolve(app.request("/assets/main-1a2b.js"));
  const first = await ask();
  expect(await first.text()).toBe(SCRIPT);
  expect(first.headers.get("content-type")).toMatch(/^text\/javascript/);
  expect(first.headers.get("cache-control")).toContain("immutable");
  fs.rmSync(path.join(folder, "assets/main-1a2b.js"));
  expect(await (await ask()).text()).toBe(SCRIPT);
});

test("it comes packed to whoever can unpack it", async () => {
  const { app } = built();
  const r = await app.request("/assets/main-1a2b.js", { headers: { "accept-encoding": "gzip, br" } });
  expect(r.headers.get("content-encoding")).toBe("br");
  expect(r.headers.get("vary")).toBe("Accept-Encoding");
  expect(brotliDecompressSync(Buffer.from(await r.arrayBuffer())).toString()).toBe(SCRIPT);
  const plain = await app.request("/assets/main-1a2b.js", { headers: { "accept-encoding": "br;q=0" } });
  expect(plain.headers.get("content-encoding")).toBeNull();
});

test("what is not among the files: a page has its address, a file of an older build is not there", async () => {
  const { app } = built();
  const status = async (address: string): Promise<number> => (await app.request(address)).status;
  for (const address of ["/", "/jobs/3", "/studies/a/compare?file=x"])
    expect(await (await app.request(address)).text()).toBe(
      '<head><meta name="oxtrum-news" content="a1.7" /></head><p>pages</p>',
    );
  expect(await (await app.request("/icon.svg")).text()).toBe("<svg/>");
  expect(await status("/assets/main-0000.js")).toBe(404);
  for (const out of ["/assets/..%2findex.html", "/assets//etc/passwd"])
    expect([out, (await (await app.request(out)).text()).includes("<p>pages")]).toEqual([out, false]);
});
