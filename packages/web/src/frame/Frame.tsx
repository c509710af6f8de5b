import { useEffect, type ReactElement } from "react";
import { Outlet } from "react-router";
import { api, tagsOf } from "../api";
import { Offline } from "../connection/Offline";
import { useThemeOnPage } from "../parts/theme";
import { listenLive } from "../connection/live-stream";
import { SignIn } from "../connection/SignIn";
import { setConnection, setKeys, setPalette, useAppDispatch, useAppSelector } from "../store";
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
      if ("status" in m) dispatch(setConnection(m.status));
      else {
        const tags = tagsOf(m);
        if (tags.length > 0) dispatch(api.util.invalidateTags(tags));
      }
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
      <Offline />
      <main className="flex min-h-0 flex-1 flex-col">
        <Outlet />
      </main>
      <Palette />
      <Keys />
    </div>
  );
}
