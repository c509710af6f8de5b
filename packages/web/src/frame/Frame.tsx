import { useEffect, type ReactElement } from "react";
import { Outlet } from "react-router";
import { api } from "../api/api";
import { useThemeOnPage } from "../parts/theme";
import { setKeys, setPalette, useAppDispatch } from "../store";
import { Keys } from "./Keys";
import { Palette } from "./Palette";
import { Strip } from "./Strip";

/** The page's frame: the strip at the top, the page below it, the palette and the list of keys when asked for. */
export function Frame(): ReactElement {
  const dispatch = useAppDispatch();
  useThemeOnPage();
  useEffect(() => {
    const events = new EventSource("/api/events");
    events.onmessage = (e) => {
      const m = JSON.parse(e.data as string) as { job?: number; state?: string };
      if (m.job !== undefined) dispatch(api.util.invalidateTags(["Jobs"]));
    };
    return () => events.close();
  }, [dispatch]);
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "k") {
        e.preventDefault();
        dispatch(setPalette(true));
      } else if (e.key === "?" && !(e.target as HTMLElement).closest("input, textarea, [contenteditable=true]"))
        dispatch(setKeys(true));
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [dispatch]);
  return (
    <div className="flex h-full flex-col">
      <Strip />
      <main className="flex min-h-0 flex-1 flex-col">
        <Outlet />
      </main>
      <Palette />
      <Keys />
    </div>
  );
}
