import { Button, Checkbox } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useAct } from "../../shared/useAct";
import { say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

/** What an assistant may sign, skill by skill; only those that the graph lets an assistant sign. */
export function Delegate({ assistant: a, delegable }: { assistant: Schema["AssistantView"]; delegable: readonly Schema["SkillName"][] }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const had = a.skills.map((s) => s.id);
  const [chosen, setChosen] = useState<readonly string[] | null>(null);
  if (!chosen) {
    return (
      <div>
        <Button onClick={() => setChosen(had)}>{say("Change what {name} signs", { name: a.person.name })}</Button>
      </div>
    );
  }
  const save = () =>
    act(async () => {
      const fresh = await body(api.PUT("/api/delegations", { body: { assistant: a.person.id, skills: [...chosen] } }));
      client.setQueryData(queries.shop().queryKey, fresh);
      setChosen(null);
    });
  return (
    <div className="stack">
      <div className="delegable">
        {delegable.map((s) => (
          <Checkbox
            key={s.id}
            className="row"
            checked={chosen.includes(s.id)}
            onChange={(e) => setChosen(e.target.checked ? [...chosen, s.id] : chosen.filter((x) => x !== s.id))}
          >
            <span>{s.name}</span>
          </Checkbox>
        ))}
      </div>
      <p className="small muted">{say("Whoever assesses is answerable for what they sign: delegate what you have seen them judge well.")}</p>
      <Refused words={error} />
      <div className="row">
        <Button type="primary" disabled={busy} onClick={() => void save()}>
          {say("Delegate these")}
        </Button>
        <Button onClick={() => setChosen(null)}>{say("Leave it as it was")}</Button>
      </div>
    </div>
  );
}
