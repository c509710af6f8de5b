import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import type { ReactElement } from "react";
import { useNavigate } from "react-router";
import { useJobsQuery, useScriptsQuery, useStudiesQuery } from "../api/api";
import { setKeys, setPalette, setTheme, useAppDispatch, useAppSelector } from "../store";

const group =
  "[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:py-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-pencil";
const item = "flex cursor-pointer items-baseline gap-3 px-3 py-1 data-[selected=true]:bg-oxide-wash";

/** Goes anywhere, does anything: by typing part of its name. */
export function Palette(): ReactElement {
  const open = useAppSelector((s) => s.view.palette);
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const studies = useStudiesQuery(undefined, { skip: !open }).data ?? [];
  const scripts = useScriptsQuery(undefined, { skip: !open }).data ?? [];
  const jobs = useJobsQuery(undefined, { skip: !open }).data ?? [];
  const act = (f: () => void) => (): void => {
    dispatch(setPalette(false));
    f();
  };
  const go = (to: string): (() => void) => act(() => void navigate(to));
  return (
    <Dialog.Root open={open} onOpenChange={(o) => dispatch(setPalette(o))}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          className="fixed top-24 left-1/2 z-50 w-140 max-w-[92vw] -translate-x-1/2 border border-rule bg-sheet shadow-lg"
          aria-describedby={undefined}
        >
          <Dialog.Title className="sr-only">Find or do anything</Dialog.Title>
          <Command label="Find or do anything" loop>
            <Command.Input
              autoFocus
              placeholder="A study, a script, a job, an action"
              className="h-11 w-full border-b border-rule bg-transparent px-3 text-md outline-none"
            />
            <Command.List className="max-h-96 overflow-auto py-1">
              <Command.Empty className="dim px-3 py-3">Nothing by that name.</Command.Empty>
              <Command.Group heading="Scripts" className={group}>
                {scripts.map((s) => (
                  <Command.Item
                    key={s.name}
                    value={`script ${s.name}`}
                    className={item}
                    onSelect={go(`/scripts/${encodeURIComponent(s.name)}`)}
                  >
                    <span className="num">{s.name}</span>
                    <span className="dim text-xs">revision {s.revision}</span>
                  </Command.Item>
                ))}
              </Command.Group>
              <Command.Group heading="Studies" className={group}>
                {studies.map((s) => (
                  <Command.Item
                    key={s.name}
                    value={`study ${s.name} ${s.title ?? ""}`}
                    className={item}
                    onSelect={go(`/studies/${encodeURIComponent(s.name)}`)}
                  >
                    <span className="num">{s.name}</span>
                    <span className="dim text-xs">{s.title}</span>
                  </Command.Item>
                ))}
              </Command.Group>
              <Command.Group heading="Compare" className={group}>
                {studies.map((s) => (
                  <Command.Item
                    key={s.name}
                    value={`compare ${s.name}`}
                    className={item}
                    onSelect={go(`/studies/${encodeURIComponent(s.name)}/compare`)}
                  >
                    <span>
                      Compare the runs of <span className="num">{s.name}</span>
                    </span>
                  </Command.Item>
                ))}
              </Command.Group>
              <Command.Group heading="Jobs" className={group}>
                <Command.Item className={item} onSelect={go("/jobs")}>
                  All jobs
                </Command.Item>
                {jobs
                  .filter((j) => j.mode === "run")
                  .slice(0, 8)
                  .map((j) => (
                    <Command.Item
                      key={j.id}
                      value={`job ${j.id} ${j.script}`}
                      className={item}
                      onSelect={go(`/jobs/${j.id}`)}
                    >
                      <span className="num">job {j.id}</span>
                      <span className="dim text-xs">
                        {j.script}, {j.state}
                      </span>
                    </Command.Item>
                  ))}
              </Command.Group>
              <Command.Group heading="Do" className={group}>
                <Command.Item className={item} onSelect={go("/?add")}>
                  Add study
                </Command.Item>
                <Command.Item className={item} onSelect={go("/scripts?new")}>
                  Start a new script
                </Command.Item>
                <Command.Item className={item} onSelect={go("/guide")}>
                  Open the guide to the script library
                </Command.Item>
                <Command.Item className={item} onSelect={go("/settings")}>
                  Change settings
                </Command.Item>
                <Command.Item className={item} onSelect={act(() => dispatch(setTheme("light")))}>
                  Light page
                </Command.Item>
                <Command.Item className={item} onSelect={act(() => dispatch(setTheme("dark")))}>
                  Dark page
                </Command.Item>
                <Command.Item className={item} onSelect={act(() => dispatch(setTheme("system")))}>
                  Use system theme
                </Command.Item>
                <Command.Item className={item} onSelect={act(() => dispatch(setKeys(true)))}>
                  List the keys
                </Command.Item>
              </Command.Group>
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
