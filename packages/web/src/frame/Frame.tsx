import { useEffect, type ReactElement } from "react";
import { Outlet } from "react-router";
import { api } from "../api/api";
import { useThemeOnPage } from "../parts/theme";
import { listenLive } from "../connection/live-stream";
import { SignIn } from "../connection/SignIn";
import { setKeys, setPalette, useAppDispatch, useAppSelector } from "../store";
import { Keys } from "./Keys";
import { Palette } from "./Palette";
import { Strip } from "./Strip";

/** The page's frame: the strip at the top, the page below it, the palette and the list of keys when asked for. */
export function Frame(): ReactElement {
  const dispatch = useAppDispatch();
  const signIn = useAppSelector((s) => s.view.signIn);
  useThemeOnPage();
  useEffect(() => {
    if (signIn) return undefined;
    return listenLive((m) => {
      // After a break, what is shown may be old.
      if ("resync" in m) dispatch(api.util.invalidateTags(["Jobs", "Studies", "Scripts"]));
      else if (m.job !== undefined && m.state !== undefined) dispatch(api.util.invalidateTags(["Jobs"]));
    });
  }, [dispatch, signIn]);
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
  if (signIn) return <SignIn />;
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
