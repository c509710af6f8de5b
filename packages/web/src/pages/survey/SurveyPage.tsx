import type { ReactElement } from "react";
import { Link, useParams } from "react-router";
import { errorText, useStudyQuery } from "../../api";
import { Empty, Loading, Trouble } from "../../frame/Empty";
import { Survey } from "./Survey";

/** A look at the domain of a run: sites placed, a field seen along them, and the script that gives the same. */
export function SurveyPage(): ReactElement {
  const name = useParams()["study"]!;
  const { currentData: data, error } = useStudyQuery(name);
  if (error && !data)
    return (
      <Trouble text={errorText(error)}>
        <Link className="link" to="/">
          To the studies
        </Link>
      </Trouble>
    );
  if (!data) return <Loading what="Opening the study" />;
  if (data.fields.length === 0)
    return (
      <Empty title="No fields here">
        The runs of this study hold no mesh files. Tables are drawn on the{" "}
        <Link className="link" to={`/studies/${encodeURIComponent(name)}`}>
          study's page
        </Link>
        .
      </Empty>
    );
  return <Survey key={name} study={data} />;
}
