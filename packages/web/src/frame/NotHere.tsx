import type { ReactElement } from "react";
import { Link, useRouteError } from "react-router";

/** For addresses that lead nowhere, and for pages that broke. */
export function NotHere(): ReactElement {
  const error = useRouteError() as Error | undefined;
  return (
    <div className="p-10">
      <h1 className="mb-2 text-lg font-semibold">
        {error ? "This page could not be drawn" : "There is nothing at this address"}
      </h1>
      <p className="dim mb-4">{error?.message ?? "It may have been renamed or removed."}</p>
      <Link className="btn" to="/" reloadDocument={error !== undefined}>
        To the studies
      </Link>
    </div>
  );
}
