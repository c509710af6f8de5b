import { chartNumbers } from "@oxtrum/core/charts";
import { exactNumber } from "@oxtrum/core/tables/number-format";

export type Numbers = ReturnType<typeof chartNumbers>;

/** Puts a table on the clipboard, in full precision, as spreadsheets take it. */
export async function copyNumbers(numbers: Numbers): Promise<void> {
  const rows = Array.from({ length: numbers.rows }, (_, i) =>
    numbers.columns.map((c) => (c.kind === "number" ? exactNumber(c.values[i]!) : c.values[i]!)).join("\t"),
  );
  const head = numbers.columns
    .map((c) => (c.kind === "number" && c.unit !== null ? `${c.name} [${c.unit}]` : c.name))
    .join("\t");
  await navigator.clipboard.writeText([head, ...rows].join("\n"));
}

/** Puts what an element draws on the clipboard, as a picture. */
export async function copyPicture(place: HTMLElement): Promise<void> {
  const element = place.querySelector("canvas, img");
  if (!element) return;
  const canvas = document.createElement("canvas");
  const source = element as HTMLCanvasElement & HTMLImageElement;
  canvas.width = source.naturalWidth || source.width;
  canvas.height = source.naturalHeight || source.height;
  const ctx = canvas.getContext("2d")!;
  ctx.fillStyle = getComputedStyle(place).backgroundColor;
  ctx.fillRect(0, 0, canvas.width, canvas.height);
  ctx.drawImage(source, 0, 0, canvas.width, canvas.height);
  const all = place.querySelectorAll("canvas");
  const frame = place.getBoundingClientRect();
  // Panels have canvases of their own over the first one.
  const ratio = canvas.width / (frame.width || 1);
  if (all.length > 1)
    all.forEach((c) => {
      const r = c.getBoundingClientRect();
      ctx.drawImage(c, (r.left - frame.left) * ratio, (r.top - frame.top) * ratio, r.width * ratio, r.height * ratio);
    });
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/png"));
  if (blob) await navigator.clipboard.write([new ClipboardItem({ "image/png": blob })]);
}
