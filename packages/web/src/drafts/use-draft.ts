import { useEffect, useState } from "react";
import type { Script } from "@oxtrum/contract";
import { scriptsApi, errorText } from "../api";
import { store } from "../store";
import { browserDrafts } from "./draft-store";
import { Draft, type DraftState, type Saved, type SaveResult } from "./draft";

const isConflict = (e: unknown): boolean => (e as { status?: unknown } | undefined)?.status === 409;

async function newest(name: string): Promise<Saved | undefined> {
  const asked = store.dispatch(scriptsApi.endpoints.script.initiate(name, { forceRefetch: true, subscribe: false }));
  const { data } = await asked;
  return data && { text: data.text, revision: data.revision };
}

async function save(name: string, text: string, base: number, auto: boolean): Promise<SaveResult> {
  const asked = store.dispatch(scriptsApi.endpoints.saveScript.initiate({ name, text, base, auto }, { track: false }));
  const { data, error } = await asked;
  if (data) return { kind: "saved", revision: data.revision };
  if (isConflict(error)) {
    const theirs = await newest(name);
    if (theirs) return { kind: "conflict", theirs };
  }
  return { kind: "failed", why: errorText(error) };
}

/**
 * The drafts of this tab, one per script: a page that is left and opened again has the same one, which goes on saving
 * meanwhile. A script that was removed and made again is another one.
 */
const drafts = new Map<string, Promise<Draft>>();

function draftOf({ id, name, text, revision }: Script): Promise<Draft> {
  const key = `${id} ${name}`;
  let draft = drafts.get(key);
  if (!draft) {
    draft = Draft.open(
      { script: name, store: browserDrafts, save: (t, base, auto) => save(name, t, base, auto) },
      { text, revision },
    );
    drafts.set(key, draft);
  }
  return draft;
}

/**
 * The text of a script that is open, with what is typed and not saved. It is undefined until this browser's store has
 * been asked; afterwards what the server has and what comes from elsewhere are taken in by it.
 */
export function useDraft(server: Script | undefined): { draft: Draft; state: DraftState } | undefined {
  const [held, setHeld] = useState<{ draft: Draft; state: DraftState } | undefined>();
  useEffect(() => {
    if (!server) return undefined;
    let left = false;
    let unlisten = (): void => undefined;
    const leave = (): void => void draftOf(server).then((d) => d.save(true));
    void draftOf(server).then(async (draft) => {
      if (left) return;
      unlisten = draft.listen(() => setHeld({ draft, state: draft.state }));
      await draft.arrived(server);
      if (!left) setHeld({ draft, state: draft.state });
    });
    window.addEventListener("pagehide", leave);
    return () => {
      left = true;
      unlisten();
      window.removeEventListener("pagehide", leave);
    };
  }, [server]);
  const draft = held?.draft;
  useEffect(() => {
    // What is typed is in this browser; a text that meets another revision has to be decided on.
    const ask = (e: BeforeUnloadEvent): void => {
      if (draft?.state.conflict) e.preventDefault();
    };
    window.addEventListener("beforeunload", ask);
    return () => {
      window.removeEventListener("beforeunload", ask);
      // The page is left.
      void draft?.save(true);
    };
  }, [draft]);
  return held;
}
