import { sure } from "../../shared/sure";
import { Button, Checkbox } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import { DecisionBox } from "./stations";
import { PinDialog } from "../../shared/PinDialog";
import { StateMark, STATE_WORDS } from "../../shared/skillState";
import { say, sayMany } from "../../shared/say";

/** After the decision: the skills that this part gives evidence for, signed under one PIN. */
export function SignPart({ sheet }: { sheet: Schema["CheckSheet"] }) {
  const me = useMe();
  const client = useQueryClient();
  const student = sheet.card.student;
  const { data } = useQuery(queries.skills(student.id));
  const [picked, setPicked] = useState<string[] | null>(null);
  const [asking, setAsking] = useState(false);
  const [id, setId] = useState(newId);
  const decision = sheet.card.decisions[0];
  const entries = (data?.skills ?? []).filter((s) => sheet.gives.some((g) => g.skill === s.skill.id));
  const signable = entries.filter((s) => s.on[0]?.may_sign && s.on[0].state === "ready" && !s.skill.demonstrated).map((s) => s.skill.id);
  const chosen = (picked ?? signable).filter((s) => entries.some((e) => e.skill.id === s && e.on[0]?.may_sign));

  const sign = async (pin: string, note: string) => {
    const fresh = await body(
      api.POST("/api/sign-offs", {
        body: {
          id,
          student: student.id,
          note,
          pin,
          skills: chosen.map((skill) => ({ skill, machine: null, seen: [] })),
        },
      }),
    );
    setId(newId());
    setPicked(null);
    client.setQueryData(queries.skills(student.id).queryKey, fresh);
    await client.invalidateQueries({ queryKey: ["floor"] });
    await client.invalidateQueries({ queryKey: ["class"] });
  };

  return (
    <section className="card pad stack">
      {decision && <DecisionBox decision={decision} />}
      <h2>{say("Skills this part gives evidence for")}</h2>
      {sheet.gives.length === 0 && <p className="muted">{say("This part gives evidence for no skill.")}</p>}
      {entries.map((s) => {
        const on = sure(s.on[0]);
        const numbers = sheet.gives.find((g) => g.skill === s.skill.id)?.characteristics.join(", ");
        return (
          <Checkbox
            key={s.skill.id}
            className="sign-skill"
            data-skill={s.skill.id}
            disabled={!on.may_sign}
            checked={chosen.includes(s.skill.id)}
            onChange={(e) => setPicked(e.target.checked ? [...chosen, s.skill.id] : chosen.filter((x) => x !== s.skill.id))}
          >
            <StateMark state={on.state} />
            <span className="grow">
              <b className="head">{s.skill.name}</b>
              <span className="small muted">
                {say("{state_words} · {reason} · characteristics", { state_words: STATE_WORDS[on.state], reason: on.reason })} {numbers}
              </span>
              {!on.may_sign && <span className="small">{on.why_not.join(" ")}</span>}
            </span>
          </Checkbox>
        );
      })}
      {entries.length > 0 && me.role !== "auditor" && (
        <Button type="primary" size="large" disabled={chosen.length === 0} onClick={() => setAsking(true)}>
          {chosen.length === 0 ? say("Nothing to sign") : sayMany("Sign this skill", "Sign these {count} skills", chosen.length)}
        </Button>
      )}
      {asking && (
        <PinDialog
          title={say("Sign for {name}", { name: student.name })}
          act={say("Sign")}
          noteLabel={say("Note")}
          onClose={() => setAsking(false)}
          onAct={sign}
        >
          <ul className="points">
            {chosen.map((c) => (
              <li key={c}>{entries.find((e) => e.skill.id === c)?.skill.name}</li>
            ))}
          </ul>
        </PinDialog>
      )}
    </section>
  );
}
