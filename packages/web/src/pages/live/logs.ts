import type { StudySummary } from "@oxtrum/contract";

/** Text files of a study's runs that are not tables: what looks like a log first. */
export function logsOf(study: StudySummary): { readonly logs: readonly string[]; readonly others: readonly string[] } {
  const texts = study.files.filter((f) => f.columns === null).map((f) => f.file);
  const logs = texts.filter((f) => /\.(?:log|out|txt|lis|res)$/i.test(f));
  return { logs, others: texts.filter((f) => !logs.includes(f)) };
}
