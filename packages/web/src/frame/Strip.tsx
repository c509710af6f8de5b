import { Moon, Sun } from "lucide-react";
import { Fragment, type ReactElement } from "react";
import { Link, useLocation, useParams } from "react-router";
import { useJobQuery, useJobsQuery } from "../api";
import { Name } from "../parts/Name";
import { useDark } from "../parts/theme";
import { setPalette, setTheme, useAppDispatch } from "../store";
import { Working } from "../parts/Working";

const Mark = (): ReactElement => (
  <svg width="22" height="22" viewBox="0 0 22 22" aria-hidden>
    <path d="M11 1v20M3 11h16" stroke="var(--ink)" strokeWidth="1.2" />
    <circle cx="11" cy="11" r="6.2" fill="none" stroke="var(--ink)" strokeWidth="1.6" />
    <path d="M11 4.8a6.2 6.2 0 0 1 6.2 6.2H11z" fill="var(--oxide)" />
  </svg>
);

function useTrail(): { text: string; to?: string }[] {
  const { pathname } = useLocation();
  const { study, script, job } = useParams();
  const head = useJobQuery(Number(job), { skip: job === undefined }).data;
  const parts: Readonly<Record<string, string>> = { survey: "Survey", compare: "Compare", live: "Live" };
  const part = pathname.split("/").length === 4 ? parts[pathname.split("/")[3]!] : undefined;
  if (study !== undefined && part !== undefined)
    return [{ text: study, to: `/studies/${encodeURIComponent(study)}` }, { text: part }];
  if (study !== undefined) return [{ text: study }];
  if (script !== undefined) return [{ text: script }];
  if (job !== undefined)
    return [
      ...(head ? [{ text: head.script, to: `/scripts/${encodeURIComponent(head.script)}` }] : []),
      { text: `${head?.mode === "try" ? "try" : "job"} ${job}`, ...(part !== undefined && { to: `/jobs/${job}` }) },
      ...(part === undefined ? [] : [{ text: part }]),
    ];
  return pathname === "/settings" ? [{ text: "Settings" }] : [];
}

const sections = [
  { text: "Studies", to: "/", within: "/studies" },
  { text: "Scripts", to: "/scripts", within: "/scripts" },
  { text: "Jobs", to: "/jobs", within: "/jobs" },
  { text: "Guide", to: "/guide", within: "/guide" },
];

/** The parts of the application, on every page. */
function Sections(): ReactElement {
  const { pathname } = useLocation();
  return (
    <nav className="flex flex-none items-center gap-3" aria-label="Sections">
      {sections.map(({ text, to, within }) => {
        const here = pathname === to || pathname.startsWith(`${within}/`);
        return (
          <Link
            key={to}
            to={to}
            aria-current={here ? "page" : undefined}
            className={
              here ? "border-b-2 border-oxide font-semibold" : "border-b-2 border-transparent hover:border-rule"
            }
          >
            {text}
          </Link>
        );
      })}
    </nav>
  );
}

/** What is running now, and how far it is. */
function Now(): ReactElement | null {
  const jobs = useJobsQuery(undefined).data ?? [];
  const running = jobs.find((j) => j.mode === "run" && j.state === "running");
  const waiting = jobs.filter((j) => j.state === "waiting").length;
  const live = useJobQuery(running?.id ?? 0, { skip: !running }).data?.live;
  if (!running) return null;
  const total = live?.runs.length ?? 0;
  const through = live
    ? Object.values(live.cells).filter((row) => Object.values(row).every((c) => c.state !== "running")).length
    : 0;
  return (
    <Link to={`/jobs/${running.id}`} className="flex items-center gap-2 text-xs">
      <Name text={running.script} most={22} className="dim" />
      <span className="h-1 w-16 bg-soft">
        {total ? (
          <span className="block h-1 bg-oxide" style={{ width: `${(100 * through) / total}%` }} />
        ) : (
          <Working className="block h-1 w-full" />
        )}
      </span>
      <span className="num">{total ? `${through} / ${total}` : "…"}</span>
      {waiting > 0 && <span className="dim">{waiting} waiting</span>}
    </Link>
  );
}

/** The one strip at the top: the mark, where you are, what is running, the palette. */
export function Strip(): ReactElement {
  const dispatch = useAppDispatch();
  const dark = useDark();
  const trail = useTrail();
  return (
    <header className="flex h-11 flex-none items-center gap-3.5 border-b border-rule bg-paper px-4">
      <Link to="/" className="flex items-center gap-2 text-md font-semibold">
        <Mark />
        Oxtrum
      </Link>
      <Sections />
      <nav className="flex min-w-0 items-center gap-2" aria-label="Where you are">
        {trail.map((t, i) => (
          <Fragment key={i}>
            <span className="dim">/</span>
            {t.to === undefined ? (
              <b className="truncate font-semibold">
                <Name text={t.text} most={40} />
              </b>
            ) : (
              <Link to={t.to} className="truncate border-b border-rule hover:border-oxide">
                {t.text}
              </Link>
            )}
          </Fragment>
        ))}
      </nav>
      <div className="ml-auto flex items-center gap-3">
        <Now />
        <button className="field flex w-59 items-center text-pencil" onClick={() => dispatch(setPalette(true))}>
          Find or do anything <kbd className="ml-auto">Ctrl K</kbd>
        </button>
        <button
          className="p-1 text-pencil hover:text-ink"
          aria-label={dark ? "Light page" : "Dark page"}
          title={dark ? "Light page" : "Dark page"}
          onClick={() => dispatch(setTheme(dark ? "light" : "dark"))}
        >
          {dark ? <Sun size={15} /> : <Moon size={15} />}
        </button>
      </div>
    </header>
  );
}
