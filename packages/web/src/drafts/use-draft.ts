import { useEffect, useRef, useState } from "react";
import { api, errorText } from "../api/api";
import { store } from "../store";
import { browserDrafts } from "./draft-store";
import { Draft, type DraftState, type Saved, type SaveResult } from "./draft";

const isConflict = (e: unknown): boolean => (e as { status?: unknown } | undefined)?.status === 409;

async function newest(name: string): Promise<Saved | undefined> {
  const asked = store.dispatch(api.endpoints.script.initiate(name, { forceRefetch: true, subscribe: false }));
  const { data } = await asked;
  return data && { text: data.text, revision: data.revision };
}

async function save(name: string, text: string, base: number, auto: boolean): Promise<SaveResult> {
  const asked = store.dispatch(api.endpoints.saveScript.initiate({ name, text, base, auto }, { track: false }));
  const { data, error } = await asked;
  if (data) return { kind: "saved", revision: data.revision };
  if (isConflict(error)) {
    const theirs = await newest(name);
    if (theirs) return { kind: "conflict", theirs };
  }
  return { kind: "failed", why: errorText(error) };
}

/**
 * The text of a script that is open, with what is typed and not saved. It is undefined until this browser's store has
 * been asked; afterwards what the server has and what comes from elsewhere are taken in by it.
 */
export function useDraft(name: string, server: Saved | undefined): { draft: Draft; state: DraftState } | undefined {
  const [held, setHeld] = useState<{ draft: Draft; state: DraftState } | undefined>();
  const draft = useRef<Draft | undefined>(undefined);
  const begun = useRef(false);
  const known = server !== undefined;
  useEffect(() => {
    if (!server || begun.current) return;
    begun.current = true;
    void Draft.open(
      {
        script: name,
        store: browserDrafts,
        save: (text, base, auto) => save(name, text, base, auto),
        changed: (state) => draft.current && setHeld({ draft: draft.current, state }),
      },
      server,
    ).then((d) => {
      draft.current = d;
      setHeld({ draft: d, state: d.state });
    });
  }, [name, server, known]);
  useEffect(() => {
    if (server) void draft.current?.arrived(server);
  }, [server]);
  useEffect(() => {
    const leave = (): void => void draft.current?.save(true);
    const ask = (e: BeforeUnloadEvent): void => {
      // What is typed is in this browser; a text that meets another revision has to be decided on.
      if (draft.current?.state.conflict) e.preventDefault();
    };
    window.addEventListener("pagehide", leave);
    window.addEventListener("beforeunload", ask);
    return () => {
      window.removeEventListener("pagehide", leave);
      window.removeEventListener("beforeunload", ask);
    };
  }, []);
  useEffect(
    () => () => {
      draft.current?.close();
      draft.current = undefined;
      begun.current = false;
    },
    [],
  );
  return held;
}
