import { stableJson } from "@oxtrum/core/exports";
import type { OutputRecord } from "../record/events.js";
import type { Manifest } from "../record/manifest.js";

const escaped = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** What a folder of outputs holds: `outputs.json` for programs, `index.html` for people. */
export function indexFiles(outputs: readonly OutputRecord[], m: Manifest): { file: string; content: string }[] {
  const list = outputs.map((o) => ({
    name: o.name,
    kind: o.kind,
    script: o.file,
    line: o.line,
    runs: o.runs,
    leftOut: o.left.length,
    files: o.files,
    ...(o.rows !== undefined && { rows: o.rows }),
    ...(o.summary !== undefined && { summary: o.summary }),
    ...(o.verdict && { verdict: o.verdict }),
    ...(o.failed !== undefined && { failed: o.failed }),
  }));
  const rows = outputs.map((o) => {
    const files =
      o.files
        .slice(0, 40)
        .map((f) => `<a href="${escaped(f.file.split("/").map(encodeURIComponent).join("/"))}">${escaped(f.file)}</a>`)
        .join(", ") + (o.files.length > 40 ? ` and ${o.files.length - 40} more` : "");
    const what = o.failed ?? o.summary ?? (o.rows === undefined ? "" : `${o.rows} rows`);
    const cells = [
      escaped(o.name),
      o.kind,
      escaped(what),
      o.runs || "",
      o.left.length || "",
      files,
      `${escaped(o.file)}:${o.line}`,
    ];
    return `<tr>${cells.map((c) => `<td>${c}</td>`).join("")}</tr>`;
  });
  const studies = m.studies.map((s) => `${escaped(s.name)}: ${s.runs.length} runs`).join(", ");
  const html = `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Outputs of ${escaped(m.script.main)}</title>
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">
<style>
body{font:14px/1.5 system-ui,sans-serif;margin:32px;color:#1F2629;background:#FAF8F3}
table{border-collapse:collapse}
th,td{text-align:left;vertical-align:top;padding:4px 14px 4px 0;border-bottom:1px solid #DDD8CC}
a{color:#AC4427}
</style></head><body>
<h1>${escaped(m.script.main)}</h1>
<p>${studies}. Provenance: <a href="manifest.json">manifest.json</a>.</p>
<table><thead><tr><th>output</th><th>kind</th><th></th><th>runs</th><th>excluded</th><th>files</th><th>line</th></tr></thead><tbody>
${rows.join("\n")}
</tbody></table></body></html>
`;
  return [
    { file: "outputs.json", content: stableJson({ script: m.script.main, outputs: list }) },
    { file: "index.html", content: html },
  ];
}
