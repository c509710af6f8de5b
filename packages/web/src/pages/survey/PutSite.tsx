import type { ReactElement } from "react";
import { Link } from "react-router";
import type { Script } from "@oxtrum/contract";
import { usePutInScript } from "../script/use-put-in-script";
import { surveyScript, type Shown } from "./put-in-script";
import { wireSite, type SurveySite } from "./sites";

/** Whether a site gives a curve for each run: along itself, or over time. */
const comparable = (s: SurveySite): boolean => s.kind !== "points" && s.kind !== "grid";

/** The address at which the runs are compared at a site. */
const comparisonOf = ({ study, file, site, quantity, time }: Shown): string => {
  const query = new URLSearchParams({
    file,
    column: quantity,
    site: JSON.stringify(wireSite(site)),
    siteName: site.name,
    ...(time !== "" && site.kind !== "plane" && site.kind !== "patch" && { time }),
  });
  return `/studies/${encodeURIComponent(study)}/compare?${query.toString()}`;
};

/** Where what is surveyed goes on: into a script of its own, the open script, or a comparison of all runs. */
export function PutSite({ code, open }: { code: Shown; open: Script | undefined }): ReactElement {
  const put = usePutInScript();
  const { site } = code;
  return (
    <>
      <button
        className="btn go justify-center"
        disabled={put.busy || site.name.trim() === ""}
        onClick={() => void put.make(`survey-${site.name}`, surveyScript(code))}
      >
        Put in script
      </button>
      {open && (
        <button
          className="btn justify-center"
          disabled={put.busy}
          title={`Adds the lines at the end of ${open.name}`}
          onClick={() => void put.addTo(open.name, surveyScript(code))}
        >
          <span className="truncate">Add to {open.name}</span>
        </button>
      )}
      {comparable(site) && (
        <Link className="btn justify-center" to={comparisonOf(code)}>
          Compare the runs here
        </Link>
      )}
      {put.error !== undefined && (
        <p role="alert" className="text-xs text-oxide">
          {put.error}
        </p>
      )}
    </>
  );
}
