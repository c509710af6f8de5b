import { createRequire } from "node:module";
import { pathToFileURL } from "node:url";

interface Page {
  readonly width: number;
  readonly height: number;
  readonly text: string;
  /** Names of the fonts in it, with whether their file is missing. */
  readonly fonts: readonly { readonly name: string; readonly embedded: boolean }[];
}
interface Proxy {
  numPages: number;
  getMetadata(): Promise<{ info: Record<string, unknown> }>;
  getPage(n: number): Promise<{
    view: number[];
    getTextContent(): Promise<{ items: { str: string; fontName: string; hasEOL: boolean }[] }>;
    getOperatorList(): Promise<unknown>;
    commonObjs: { get(name: string): { name: string; missingFile?: boolean } };
  }>;
}

/** A PDF as another program reads it. */
export async function readPdf(
  bytes: Uint8Array,
): Promise<{ title: unknown; info: Record<string, unknown>; pages: Page[] }> {
  const file = createRequire(import.meta.url).resolve("pdfjs-dist/legacy/build/pdf.mjs");
  const { getDocument } = (await import(pathToFileURL(file).href)) as {
    getDocument(o: object): { promise: Promise<Proxy>; destroy(): Promise<void> };
  };
  const task = getDocument({ data: new Uint8Array(bytes), verbosity: 0, isEvalSupported: false });
  const doc = await task.promise;
  const { info } = await doc.getMetadata();
  const pages: Page[] = [];
  for (let n = 1; n <= doc.numPages; n++) {
    const page = await doc.getPage(n);
    const { items } = await page.getTextContent();
    await page.getOperatorList();
    const fonts = [...new Set(items.map((i) => i.fontName))]
      .map((f) => page.commonObjs.get(f))
      .map((f) => ({ name: f.name, embedded: f.missingFile === false }));
    pages.push({
      width: page.view[2]!,
      height: page.view[3]!,
      text: items.map((i) => i.str + (i.hasEOL ? "\n" : "")).join(""),
      fonts,
    });
  }
  await task.destroy();
  return { title: info["Title"], info, pages };
}
