import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { useState, type ReactElement, type ReactNode } from "react";
import { useNavigate } from "react-router";
import { useJobsQuery, useScriptsQuery, useStudiesQuery } from "../api";
import { setKeys, setPalette, setTheme, useAppDispatch, useAppSelector } from "../store";

const group =
  "[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:py-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-pencil";
const item = "flex cursor-pointer items-baseline gap-3 px-3 py-1 data-[selected=true]:bg-oxide-wash";

/** Things of one kind that can be gone to, each found by the words of its value. */
function Places<T>({
  heading,
  of,
  valueOf,
  to,
  onGo,
  children,
}: {
  heading: string;
  of: readonly T[];
  valueOf: (t: T) => string;
  to: (t: T) => string;
  onGo: (to: string) => void;
  children: (t: T) => ReactNode;
}): ReactElement {
  return (
    <Command.Group heading={heading} className={group}>
      {of.map((t) => (
        <Command.Item key={valueOf(t)} value={valueOf(t)} className={item} onSelect={() => onGo(to(t))}>
          {children(t)}
        </Command.Item>
      ))}
    </Command.Group>
  );
}

/** Whether all words that were typed are in a name, whole or in part: strewn letters do not match. */
function fits(name: string, typed: string): number {
  const words = typed.toLowerCase().split(/\s+/);
  return words.every((w) => name.toLowerCase().includes(w)) ? 1 : 0;
}

const scriptValue = (s: { name: string }): string => `script ${s.name}`;
const studyPage = (name: string): string => `/studies/${encodeURIComponent(name)}`;

/** What there is to go to. */
function Found({ onGo }: { onGo: (to: string) => void }): ReactElement {
  const studies = useStudiesQuery(undefined).data ?? [];
  const scripts = useScriptsQuery(undefined).data ?? [];
  const jobs = (useJobsQuery(undefined).data ?? []).filter((j) => j.mode === "run").slice(0, 8);
  const named = (name: string, more: string | null): ReactElement => (
    <>
      <span className="num">{name}</span>
      <span className="dim text-xs">{more}</span>
    </>
  );
  return (
    <>
      <Places
        heading="Scripts"
        of={scripts}
        valueOf={scriptValue}
        to={(s) => `/scripts/${encodeURIComponent(s.name)}`}
        onGo={onGo}
      >
        {(s) => named(s.name, `revision ${s.revision}`)}
      </Places>
      <Places
        heading="Studies"
        of={studies}
        valueOf={(s) => `study ${s.name} ${s.title ?? ""}`}
        to={(s) => studyPage(s.name)}
        onGo={onGo}
      >
        {(s) => named(s.name, s.title)}
      </Places>
      <Places
        heading="Compare"
        of={studies}
        valueOf={(s) => `compare ${s.name}`}
        to={(s) => `${studyPage(s.name)}/compare`}
        onGo={onGo}
      >
        {(s) => (
          <span>
            Compare the runs of <span className="num">{s.name}</span>
          </span>
        )}
      </Places>
      <Places
        heading="Jobs"
        of={jobs}
        valueOf={(j) => `job ${j.id} ${j.script}`}
        to={(j) => `/jobs/${j.id}`}
        onGo={onGo}
      >
        {(j) => named(`job ${j.id}`, `${j.script}, ${j.state}`)}
      </Places>
    </>
  );
}

/** The words that are typed, and what fits them. */
function Search(): ReactElement {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const [chosen, setChosen] = useState("");
  const [isMoved, setMoved] = useState(false);
  // Actions are there before scripts are: until something is typed or pointed at, Enter takes the first of all.
  const first = useScriptsQuery(undefined).data?.[0];
  const value = !isMoved && first ? scriptValue(first) : chosen;
  const move = (): void => {
    if (!isMoved) setChosen(value);
    setMoved(true);
  };
  const act = (f: () => unknown) => (): void => {
    dispatch(setPalette(false));
    f();
  };
  const go = (to: string): (() => void) => act(() => navigate(to));
  const actions: readonly (readonly [words: string, act: () => void])[] = [
    ["All jobs", go("/jobs")],
    ["Add study", go("/?add")],
    ["Start a new script", go("/scripts?new")],
    ["Open the guide to the script library", go("/guide")],
    ["Change settings", go("/settings")],
    ["Light page", act(() => dispatch(setTheme("light")))],
    ["Dark page", act(() => dispatch(setTheme("dark")))],
    ["Use system theme", act(() => dispatch(setTheme("system")))],
    ["List the keys", act(() => dispatch(setKeys(true)))],
  ];
  return (
    <Command
      label="Find or do anything"
      loop
      filter={fits}
      value={value}
      onValueChange={setChosen}
      onKeyDown={move}
      onPointerMove={move}
    >
      <Command.Input
        autoFocus
        placeholder="A study, a script, a job, an action"
        onValueChange={move}
        className="h-11 w-full border-b border-rule bg-transparent px-3 text-md outline-none"
      />
      <Command.List className="max-h-96 overflow-auto py-1">
        <Command.Empty className="dim px-3 py-3">Nothing by that name.</Command.Empty>
        <Found onGo={(to) => go(to)()} />
        <Command.Group heading="Do" className={group}>
          {actions.map(([words, does]) => (
            <Command.Item key={words} className={item} onSelect={does}>
              {words}
            </Command.Item>
          ))}
        </Command.Group>
      </Command.List>
    </Command>
  );
}

/** Goes anywhere, does anything: by typing part of its name. */
export function Palette(): ReactElement {
  const open = useAppSelector((s) => s.view.palette);
  const dispatch = useAppDispatch();
  return (
    <Dialog.Root open={open} onOpenChange={(o) => dispatch(setPalette(o))}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          className="fixed top-24 left-1/2 z-50 w-140 max-w-[92vw] -translate-x-1/2 border border-rule bg-sheet shadow-lg"
          aria-describedby={undefined}
        >
          <Dialog.Title className="sr-only">Find or do anything</Dialog.Title>
          <Search />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
