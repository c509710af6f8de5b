import { type ReactElement } from "react";
import { Link, useParams } from "react-router";
import { errorText, useScriptQuery } from "../../api";
import { useDraft } from "../../drafts/use-draft";
import { Loading, Trouble } from "../../frame/Empty";
import { Conflict } from "./Conflict";
import { Workbench } from "./Workbench";

/** A script: its text with what is typed and not saved, or the two texts that have to be made one. */
export function ScriptPage(): ReactElement {
  const name = useParams()["script"]!;
  return <Opened key={name} name={name} />;
}

function Opened({ name }: { name: string }): ReactElement {
  const { currentData: data, error } = useScriptQuery(name);
  const held = useDraft(data);
  if (!data)
    return error ? (
      <Trouble text={errorText(error)}>
        <Link className="link" to="/scripts">
          To the scripts
        </Link>
      </Trouble>
    ) : (
      <Loading what="Opening the script" />
    );
  if (!held) return <Loading what="Opening the script" />;
  const { draft, state } = held;
  if (state.conflict)
    return (
      <Conflict
        key={state.conflict.revision}
        name={name}
        theirs={state.conflict}
        mine={state.text}
        base={state.base.revision}
        onResolve={(text) => void draft.resolve(text)}
      />
    );
  return <Workbench name={name} draft={draft} state={state} />;
}
