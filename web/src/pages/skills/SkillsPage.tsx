import { PAPERS } from "../../shared/papers";
import { Button } from "antd";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Loading } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { Accommodation } from "../../shared/Accommodation";
import { Holds } from "./Holds";
import { MayTable } from "./MayTable";
import { SkillPanel } from "./SkillPanel";
import { StateMark, STATE_WORDS, type State } from "../../shared/skillState";
import { say } from "../../shared/say";

const URGENCY: State[] = ["ready", "due_soon", "lapsed", "withdrawn", "suspended", "open", "signed", "locked"];

/** A student's skills: where they stand on each, why, and what they may do today. */
export default function SkillsPage() {
  const { student = "" } = useParams();
  const [params] = useSearchParams();
  const me = useMe();
  const { data, error } = useQuery(queries.skills(student));
  const [chosen, setChosen] = useState<string | null>(params.get("skill"));
  if (!data) return <Loading error={error} />;
  const first = data.skills.toSorted((a, b) => urgency(a) - urgency(b))[0];
  const entry = data.skills.find((s) => s.skill.id === chosen) ?? first;
  const own = me.id === student;
  const record = `/api/students/${student}/skill-record.pdf`;
  return (
    <main className="page skills-page">
      <header className="between">
        <div>
          <h1>{own ? say("My skills") : data.student.name}</h1>
          <p className="muted">{data.group}</p>
        </div>
        <div className="row">
          {!own && (
            <Link className="button" to={`/ladder?student=${student}`}>
              {say("On the ladder")}
            </Link>
          )}
          {PAPERS.map((paper) => (
            <a key={paper} className="button" href={`${record}?paper=${paper}`} target="_blank" rel="noreferrer">
              {say("Record, {paper}", { paper })}
            </a>
          ))}
          {(own || me.role === "instructor") && (
            <a
              className="button"
              href={`/api/students/${student}/credentials.json`}
              download
              title={say("What is signed, as a file with the shop's signature. An employer or another school can check it at {address}.", {
                address: `${location.origin}/verify`,
              })}
            >
              {say("Credentials")}
            </a>
          )}
          {(me.role === "instructor" || me.role === "assistant") && (
            <Link className="button first" to={`/assess/${student}`}>
              {say("See a skill shown")}
            </Link>
          )}
        </div>
      </header>
      <div className="stack">
        <div className="card skill-list">
          {data.groups.map((g) => (
            <section key={g.id}>
              <h3 className="skill-group">{g.name}</h3>
              {data.skills
                .filter((s) => s.skill.group === g.id)
                .map((s) => (
                  <Button key={s.skill.id} type="text" className="plain skill-line" aria-pressed={s === entry} onClick={() => setChosen(s.skill.id)}>
                    <StateMark state={shownState(s)} size={24} />
                    <span className="grow">
                      <b className="head">{s.skill.name}</b>
                      <span className="small muted">{summary(s)}</span>
                    </span>
                  </Button>
                ))}
            </section>
          ))}
        </div>
        <Accommodation student={student} />
        {me.role === "instructor" && <Holds student={student} />}
        <MayTable may={data.may} own={own} />
      </div>
      <section className="card pad skill-shown">{entry && <SkillPanel key={entry.skill.id} student={data.student} entry={entry} />}</section>
    </main>
  );
}

function urgency(s: Schema["StudentSkill"]): number {
  return URGENCY.indexOf(shownState(s));
}

/** A per-machine skill is shown with its best machine, unless one was withdrawn. */
function shownState(s: Schema["StudentSkill"]): State {
  const states = s.on.map((o) => o.state);
  const order: State[] = ["withdrawn", "signed", "due_soon", "ready", "open", "lapsed", "suspended", "locked"];
  return order.find((o) => states.includes(o)) ?? "locked";
}

function summary(s: Schema["StudentSkill"]): string {
  if (!s.skill.per_machine) return s.on[0]?.reason ?? "";
  return s.on.map((o) => `${o.machine?.name} ${STATE_WORDS[o.state]}`).join(" · ");
}
