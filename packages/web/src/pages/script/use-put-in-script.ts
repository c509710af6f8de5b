import { useState } from "react";
import { useNavigate } from "react-router";
import { scriptsApi, errorText, useSaveScriptMutation, useScriptsQuery } from "../../api";
import { freeName } from "../../parts/free-name";
import { useAppDispatch } from "../../store";

/** What a page shows goes into a script, which opens then. */
export interface PutInScript {
  /** Writes a script of its own; its name is numbered where there is one of that name. */
  readonly make: (wanted: string, text: string) => Promise<void>;
  /**
   * Adds to a script, as it is saved now, what a whole script of these lines does. The server makes the change: it has
   * the script's syntax tree.
   */
  readonly addTo: (name: string, lines: string, given?: Record<string, string>) => Promise<void>;
  readonly busy: boolean;
  readonly error: string | undefined;
}

export function usePutInScript(): PutInScript {
  const [save, saving] = useSaveScriptMutation();
  const [adding, setAdding] = useState<{ busy: boolean; error?: unknown }>({ busy: false });
  const scripts = useScriptsQuery().data;
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const newest = (name: string) =>
    dispatch(scriptsApi.endpoints.script.initiate(name, { forceRefetch: true, subscribe: false }));
  const write = async (name: string, text: string, base: number): Promise<void> => {
    const saved = await save({ name, text, base });
    if ("error" in saved) return;
    // The page opens with what was just written, not with what it had before.
    await newest(name);
    await navigate(`/scripts/${encodeURIComponent(name)}`);
  };
  const error = saving.error ?? adding.error;
  return {
    make: (wanted, text) =>
      write(
        freeName(
          wanted,
          (scripts ?? []).map((s) => s.name),
        ),
        text,
        0,
      ),
    addTo: async (name, lines, given) => {
      setAdding({ busy: true });
      const script = await newest(name);
      const made =
        script.data &&
        (await dispatch(
          scriptsApi.endpoints.addition.initiate({ name, text: script.data.text, lines, ...(given && { given }) }),
        ));
      setAdding({ busy: false, error: script.error ?? made?.error });
      if (script.data && made?.data) await write(name, made.data.text, script.data.revision);
    },
    busy: saving.isLoading || adding.busy,
    error: error ? errorText(error) : undefined,
  };
}
