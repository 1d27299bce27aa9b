import { sure } from "../../shared/sure";
import { Button } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { useAct } from "../../shared/useAct";
import { StateMark, STATE_WORDS } from "../../shared/skillState";
import "./skills.css";
import { say } from "../../shared/say";

type Step = Schema["SkillStep"];

/** Skills in reach, each with what can be done about it at once. */
export function Steps({ steps, own }: { steps: readonly Step[]; own: boolean }) {
  return (
    <ul className="steps">
      {steps.map((s) => (
        <StepLine key={s.skill + (s.machine?.id ?? "")} step={s} own={own} />
      ))}
    </ul>
  );
}

function StepLine({ step: s, own }: { step: Step; own: boolean }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const fresh = () => client.invalidateQueries();
  const call = () =>
    act(async () => {
      await body(
        api.POST("/api/calls", {
          body: {
            id: newId(),
            kind: "show",
            what: s.skill,
            machine: s.machine?.id ?? null,
            assignment: null,
            words: "",
          },
        }),
      );
      await fresh();
    });
  const takeBack = (call: string) =>
    act(async () => {
      await body(api.POST("/api/calls/{call}/end", { params: { path: { call } }, body: { outcome: "cancelled", words: "" } }));
      await fresh();
    });
  return (
    <li data-step={s.skill}>
      <StateMark state={s.state} size={26} />
      <span className="grow">
        <b className="head">
          {s.name}
          {s.machine && `, ${s.machine.name}`}
        </b>
        <span className="small muted">{s.reason || STATE_WORDS[s.state]}</span>
        {error && <span className="error small">{error}</span>}
      </span>
      {own &&
        s.checks.map((c) => (
          <Link key={c.bank} className="button" to={`/knowledge/${c.bank}`}>
            {say("Take the check")}
          </Link>
        ))}
      {own && s.rig && (
        <Link className="button" to="/rigs">
          {s.rig}
        </Link>
      )}
      {own && s.exercise && (
        <Link className="button" to={`/exercises/${s.exercise.calculation}`}>
          {s.exercise.name}
        </Link>
      )}
      {own && s.to_show && !s.called && (
        <Button disabled={busy} onClick={() => void call()}>
          {say("Call to show it")}
        </Button>
      )}
      {own && s.called && (
        <Button className="called" disabled={busy} onClick={() => void takeBack(sure(s.called))} title={say("Cancel the call")}>
          {say("Called: cancel")}
        </Button>
      )}
    </li>
  );
}
