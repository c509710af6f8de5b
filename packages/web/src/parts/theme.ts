import { useEffect, useSyncExternalStore } from "react";
import { useAppSelector } from "../store";

const media = window.matchMedia("(prefers-color-scheme: dark)");
const subscribe = (f: () => void): (() => void) => {
  media.addEventListener("change", f);
  return () => media.removeEventListener("change", f);
};

/** Whether the page is dark: as chosen, or as the system is. */
export function useDark(): boolean {
  const system = useSyncExternalStore(subscribe, () => media.matches);
  const choice = useAppSelector((s) => s.view.theme);
  return choice === "dark" || (choice === "system" && system);
}

/** Puts the theme on the page and remembers the choice. */
export function useThemeOnPage(): void {
  const dark = useDark();
  const choice = useAppSelector((s) => s.view.theme);
  useEffect(() => {
    document.documentElement.dataset["theme"] = dark ? "dark" : "light";
    localStorage.setItem("oxtrum.theme", choice);
  }, [dark, choice]);
}
