import { Button, Select } from "antd";
import type { Schema } from "../../../api/client";
import { say } from "../../../shared/say";
import { Wrong, type Edit } from "./Asking";
import { get } from "./file";

/** What a part takes and shows: proposed from its features, changed by choosing. */
export function Skills({ edit }: { edit: Edit }) {
  return (
    <div className="stack tight">
      <List
        edit={edit}
        at="operations"
        title={say("Done on this part, in the order of work")}
        proposed={edit.draft.operations}
        of={edit.choices.operations}
      />
      <List edit={edit} at="needs" title={say("What a student must have before")} proposed={edit.draft.needs} of={edit.choices.skills} />
      <fieldset className="feature">
        <legend>{say("Gives evidence for")}</legend>
        <p className="small">{edit.draft.gives.map((g) => g.name).join(", ") || say("nothing")}</p>
      </fieldset>
    </div>
  );
}

type Choice = Schema["KeyedChoice"];

function List(p: { edit: Edit; at: "operations" | "needs"; title: string; proposed: readonly Choice[]; of: readonly Choice[] }) {
  const { edit, at } = p;
  const own = get(edit.file, at);
  const isOwn = Array.isArray(own);
  const write = (value: string[] | null) => edit.change({ ...edit.file, [at]: value });
  return (
    <fieldset className="feature">
      <legend>{p.title}</legend>
      <Select
        mode="multiple"
        aria-label={p.title}
        value={isOwn ? (own as string[]) : p.proposed.map((s) => s.id)}
        options={p.of.map((s) => ({ value: s.id, label: s.name }))}
        showSearch={{ optionFilterProp: "label" }}
        onChange={write}
      />
      <Wrong draft={edit.draft} path={at} />
      <div className="row">
        {isOwn ? (
          <Button size="small" onClick={() => write(null)}>
            {say("As the features suggest")}
          </Button>
        ) : (
          <span className="small muted">{say("Suggested by the features")}</span>
        )}
      </div>
    </fieldset>
  );
}
