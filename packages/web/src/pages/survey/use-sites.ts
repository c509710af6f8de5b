import { useCallback, useMemo, useState } from "react";
import type { Outline } from "@oxtrum/contract";
import { firstSites, kindWord, newSite, type SiteKind, type SurveySite } from "./sites";

/** The sites of a survey, and which of them is chosen. */
export interface Sites {
  readonly sites: readonly SurveySite[];
  readonly site: SurveySite | undefined;
  readonly choose: (name: string | undefined) => void;
  readonly replace: (old: SurveySite, now: SurveySite) => void;
  /** A name that no site has yet. */
  readonly free: (wanted: string) => string;
  readonly place: (s: SurveySite) => void;
  readonly add: (kind: SiteKind) => void;
  readonly remove: (s: SurveySite) => void;
  /** Those that a domain has at first, again. */
  readonly reset: () => void;
}

export function useSites(domain: Outline | undefined, patches: readonly string[]): Sites {
  const [placed, setSites] = useState<readonly SurveySite[] | undefined>();
  const sites = useMemo(
    () => placed ?? (domain && domain.bounds.length === 6 ? firstSites(domain.bounds, domain.dimension, patches) : []),
    [placed, domain, patches],
  );
  const [chosen, setChosen] = useState<string | undefined>();
  const replace = useCallback(
    (old: SurveySite, now: SurveySite): void => {
      setSites(sites.map((x) => (x === old ? now : x)));
      setChosen(now.name);
    },
    [sites],
  );
  const free = (wanted: string): string => {
    const stem = wanted.replace(/ \d+$/, "");
    let name = wanted;
    for (let n = 2; sites.some((s) => s.name === name); n++) name = `${stem} ${n}`;
    return name;
  };
  const place = (s: SurveySite): void => {
    setSites([...sites, s]);
    setChosen(s.name);
  };
  const add = (kind: SiteKind): void => domain && place(newSite(kind, free(kindWord[kind]), domain.bounds, patches));
  return {
    sites,
    site: sites.find((s) => s.name === chosen) ?? sites[0],
    choose: setChosen,
    replace,
    free,
    place,
    add,
    remove: (s) => setSites(sites.filter((x) => x !== s)),
    reset: () => {
      setSites(undefined);
      setChosen(undefined);
    },
  };
}
