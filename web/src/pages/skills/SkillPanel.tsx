import { Button, Input } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import { when } from "../../shared/time";
import { SkillText } from "./SkillText";
import { PinDialog } from "../../shared/PinDialog";
import { StateMark, STATE_WORDS } from "../../shared/skillState";
import "./skills.css";
import { say } from "../../shared/say";

type StudentSkill = Schema["StudentSkill"];
type OnMachine = Schema["OnMachine"];
type Act = { kind: "sign" | "withdraw" | "restore"; on: OnMachine };

const KINDS: Record<string, string> = {
  sign_off: say("signed"),
  withdrawal: say("withdrawn"),
  restoration: say("reinstated"),
  inspected: say("inspected part"),
  planned: say("planned alone"),
  dry_run: say("dry run without a slip"),
  not_yet: say("shown, not yet"),
  check_passed: say("knowledge check passed"),
  check_failed: say("knowledge check not passed"),
};

/** One skill of one student: its state with the reason, the evidence, and what may be done. */
export function SkillPanel({ student, entry }: { student: Schema["Named"]; entry: StudentSkill }) {
  const me = useMe();
  const client = useQueryClient();
  const [act, setAct] = useState<Act | null>(null);
  const assesses = me.role === "instructor" || me.role === "assistant";
  const instructor = me.role === "instructor";
  const { skill } = entry;

  const done = async (fresh: Schema["StudentSkills"]) => {
    client.setQueryData(queries.skills(student.id).queryKey, fresh);
    await client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "skills" });
  };
  return (
    <div className="stack skill-panel">
      <h2>{skill.name}</h2>
      {entry.on.map((on) => (
        <div key={on.machine?.id ?? "all"} className="skill-on">
          <StateMark state={on.state} size={26} />
          <span className="grow">
            <b className="head">
              {on.machine ? `${on.machine.name}: ` : ""}
              {STATE_WORDS[on.state]}
            </b>
            <span className="small muted">{on.reason}</span>
          </span>
          {assesses && on.may_sign && skill.demonstrated && (
            <Link
              className={`button ${on.state === "ready" ? "first" : ""}`}
              to={`/assess/${student.id}?skill=${skill.id}${on.machine ? `&machine=${on.machine.id}` : ""}`}
            >
              {on.refresher ? say("Refresher") : say("See it")}
            </Link>
          )}
          {assesses && on.may_sign && !skill.demonstrated && (
            <Button type={on.state === "ready" ? "primary" : "default"} onClick={() => setAct({ kind: "sign", on })}>
              {on.refresher ? say("Sign again") : say("Sign")}
            </Button>
          )}
          {instructor && on.state === "withdrawn" && <Button onClick={() => setAct({ kind: "restore", on })}>{say("Reinstate")}</Button>}
          {instructor && ["signed", "due_soon", "suspended", "lapsed"].includes(on.state) && (
            <Button danger onClick={() => setAct({ kind: "withdraw", on })}>
              {say("Withdraw")}
            </Button>
          )}
          {assesses && !on.may_sign && on.state !== "locked" && on.why_not.length > 0 && (
            <span className="small muted why-not">{on.why_not.join(" ")}</span>
          )}
        </div>
      ))}
      <SkillText skill={skill} />
      <h3>{say("Evidence")}</h3>
      {entry.events.length === 0 && <p className="muted small">{say("Nothing is recorded yet.")}</p>}
      <ul className="events">
        {entry.events.map((e) => (
          <li key={e.kind + e.at + e.machine}>
            <b className="head">
              {KINDS[e.kind] ?? e.kind}
              {e.machine && `, ${e.machine}`}
            </b>
            <span className="small muted">
              {when(e.at)}
              {e.by && ` · ${e.by}`}
            </span>
            {e.words && <span>{e.words}</span>}
          </li>
        ))}
      </ul>
      {act && <ActDialog act={act} student={student} skill={skill} onDone={done} onClose={() => setAct(null)} />}
    </div>
  );
}

const NOTHING = { place: "", witness: "", done: "" };

function ActDialog({
  act,
  student,
  skill,
  onDone,
  onClose,
}: {
  act: Act;
  student: Schema["Named"];
  skill: Schema["SkillView"];
  onDone: (fresh: Schema["StudentSkills"]) => Promise<void>;
  onClose: () => void;
}) {
  const [id] = useState(newId);
  const [more, setMore] = useState(NOTHING);
  const machine = act.on.machine?.id ?? null;
  const common = { id, student: student.id, skill: skill.id, machine };
  const who = (
    <p>
      <b>{student.name}</b>
      {act.on.machine && say(" on {name}", { name: act.on.machine.name })}.{" "}
      {act.kind === "withdraw" && say("Everything that rests on this skill is closed at once, until an instructor reinstates it.")}
      {act.kind === "restore" && say("The earlier sign-off holds again, and what rests on it.")}
    </p>
  );
  if (act.kind === "sign") {
    const sign = async (pin: string, note: string) =>
      onDone(
        await body(
          api.POST("/api/sign-offs", {
            body: { id, student: student.id, note, pin, skills: [{ skill: skill.id, machine, seen: [] }] },
          }),
        ),
      );
    return (
      <PinDialog title={say("Sign {name}", { name: skill.name })} act={say("Sign")} noteLabel={say("Note")} onClose={onClose} onAct={sign}>
        {who}
        <ul className="points">
          {skill.points.map((p) => (
            <li key={p.number}>{p.text}</li>
          ))}
        </ul>
      </PinDialog>
    );
  }
  if (act.kind === "restore") {
    const restore = async (pin: string, reason: string) => onDone(await body(api.POST("/api/restorations", { body: { ...common, reason, pin } })));
    return (
      <PinDialog
        title={say("Reinstate {name}", { name: skill.name })}
        act={say("Reinstate")}
        noteNeeded
        noteLabel={say("Why it is reinstated (required)")}
        onClose={onClose}
        onAct={restore}
      >
        {who}
      </PinDialog>
    );
  }
  const withdraw = async (pin: string, reason: string) =>
    onDone(await body(api.POST("/api/withdrawals", { body: { ...common, ...more, reason, pin } })));
  const field = (name: keyof typeof NOTHING, label: string) => (
    <label className="asked grow">
      {label}
      <Input maxLength={200} value={more[name]} onChange={(e) => setMore({ ...more, [name]: e.target.value })} />
    </label>
  );
  return (
    <PinDialog
      title={say("Withdraw {name}", { name: skill.name })}
      act={say("Withdraw")}
      danger
      noteNeeded
      noteLabel={say("What happened (required)")}
      onClose={onClose}
      onAct={withdraw}
    >
      {who}
      <div className="row">
        {field("place", say("Where"))}
        {field("witness", say("Who saw it"))}
      </div>
      {field("done", say("What was done"))}
    </PinDialog>
  );
}
