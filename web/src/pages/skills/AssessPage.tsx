import { sure } from "../../shared/sure";
import { Button } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Accommodation } from "../../shared/Accommodation";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Loading } from "../../shared/Loading";
import { PinDialog } from "../../shared/PinDialog";
import { StateMark, STATE_WORDS } from "../../shared/skillState";
import "./assess.css";
import { Rich, say, sayMany } from "../../shared/say";

type Entry = Schema["StudentSkill"];
type On = Schema["OnMachine"];
type Seen = Readonly<Record<number, boolean>>;

/** One skill (on one machine) that the assessor has taken onto their list. */
type Taken = { entry: Entry; on: On; key: string };

const keyOf = (skill: string, machine: string | undefined) => `${skill}@${machine ?? ""}`;

/** The assessor's checklist: one touch per point, several skills under one PIN. */
export default function AssessPage() {
  const { student = "" } = useParams();
  const [params] = useSearchParams();
  const { data, error } = useQuery(queries.skills(student));
  if (!data) return <Loading error={error} />;
  return <Checklist key={student} student={student} data={data} first={params.get("skill") ?? ""} machine={params.get("machine") ?? ""} />;
}

function Checklist({ student, data, first, machine }: { student: string; data: Schema["StudentSkills"]; first: string; machine: string }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const all: Taken[] = data.skills.flatMap((entry) => entry.on.map((on) => ({ entry, on, key: keyOf(entry.skill.id, on.machine?.id) })));
  const wanted = keyOf(first, machine || all.find((t) => t.entry.skill.id === first && t.on.may_sign)?.on.machine?.id);
  const [keys, setKeys] = useState<readonly string[]>(() => (all.some((t) => t.key === wanted && t.on.may_sign) ? [wanted] : []));
  const [seen, setSeen] = useState<Readonly<Record<string, Seen>>>({});
  const [asking, setAsking] = useState(false);
  const [id] = useState(newId);
  const refused = all.find((t) => t.key === wanted && !t.on.may_sign);
  const open = all
    .filter((t) => t.on.may_sign && (t.entry.skill.demonstrated || t.on.state === "ready"))
    .toSorted((a, b) => order(a.on) - order(b.on));
  const taken = keys.map((k) => sure(all.find((t) => t.key === k))).filter(Boolean);
  const judged = taken.map((t) => ({ ...t, ...judge(t, seen[t.key] ?? {}) }));
  const complete = judged.length > 0 && judged.every((t) => t.done);

  const touch = (key: string, number: number, ok: boolean) => setSeen({ ...seen, [key]: { ...seen[key], [number]: ok } });
  const sign = async (pin: string, note: string) => {
    const fresh = await body(
      api.POST("/api/sign-offs", {
        body: {
          id,
          student,
          note,
          pin,
          skills: taken.map((t) => ({
            skill: t.entry.skill.id,
            machine: t.on.machine?.id ?? null,
            seen: Object.entries(seen[t.key] ?? {}).map(([number, ok]) => ({ number: Number(number), ok })),
          })),
        },
      }),
    );
    client.setQueryData(queries.skills(student).queryKey, fresh);
    await client.invalidateQueries();
    void navigate(`/skills/${student}`);
  };

  return (
    <main className="page assess">
      <div className="between">
        <h1>
          {data.student.name} <span className="muted small">{say("is demonstrating a skill")}</span>
        </h1>
        <Link to={`/skills/${student}`}>{say("all skills")}</Link>
      </div>
      {refused && first && (
        <p className="caution">
          <b>{say("{name} cannot be signed now.", { name: refused.entry.skill.name })}</b> {refused.on.why_not.join(" ")}
        </p>
      )}
      <div className="assess-columns">
        <section className="stack">
          <Accommodation student={student} />
          {judged.map((t) => (
            <article key={t.key} className="card pad stack" data-skill={t.entry.skill.id}>
              <div className="between">
                <h2>
                  {t.entry.skill.name}
                  {t.on.machine && `, ${t.on.machine.name}`}
                </h2>
                <Button onClick={() => setKeys(keys.filter((k) => k !== t.key))}>{say("Remove")}</Button>
              </div>
              {t.on.refresher && <p className="small muted">{say("Refresher: only these points.")}</p>}
              {t.entry.skill.cautions.map((c) => (
                <p key={c.happens} className="caution small">
                  <b>{c.happens}</b> {c.do}
                </p>
              ))}
              <ul className="judge">
                {t.points.map((p) => {
                  const said = (seen[t.key] ?? {})[p.number];
                  return (
                    <li key={p.number} className={said === undefined ? "" : said ? "yes" : "no"}>
                      <span className="grow">
                        {p.text}
                        {p.critical && <span className="needs">{say("must be right")}</span>}
                      </span>
                      <button
                        className="said"
                        aria-pressed={said === true}
                        aria-label={say("yes, shown: {text}", { text: p.text })}
                        onClick={() => touch(t.key, p.number, true)}
                      >
                        <Mark shape="M4 12 10 18 20 6" /> {say("yes")}
                      </button>
                      <button
                        className="said"
                        aria-pressed={said === false}
                        aria-label={say("no, not shown: {text}", { text: p.text })}
                        onClick={() => touch(t.key, p.number, false)}
                      >
                        <Mark shape="M6 6 18 18M18 6 6 18" /> {say("no")}
                      </button>
                    </li>
                  );
                })}
                {t.points.length === 0 && <li>{say("No points to watch: the inspected parts count for it.")}</li>}
              </ul>
              {t.repeat.length > 0 && (
                <p className="error">
                  <Rich
                    text={"<b>{value}</b> Show again: {listed}."}
                    values={{ value: t.stopped ? say("Stopped: a point that must be right was not.") : say("Not yet."), listed: t.repeat.join("; ") }}
                    with={{ b: <b /> }}
                  />
                </p>
              )}
            </article>
          ))}
          {judged.length === 0 && <p className="card pad muted">{say("Touch what {name} wants to show.", { name: data.student.name })}</p>}
        </section>
        <aside className="stack">
          <section className="card pad stack">
            <h2>{say("Can be shown now")}</h2>
            <div className="assess-open">
              {open.map((t) => (
                <Button
                  key={t.key}
                  type="text"
                  className="skill-line plain"
                  data-key={t.key}
                  aria-pressed={keys.includes(t.key)}
                  onClick={() => setKeys(keys.includes(t.key) ? keys.filter((k) => k !== t.key) : [...keys, t.key])}
                >
                  <StateMark state={t.on.state} />
                  <span className="grow">
                    <b className="head">
                      {t.entry.skill.name}
                      {t.on.machine && `, ${t.on.machine.name}`}
                    </b>
                    <span className="small muted">{t.on.called ? say("called to show this") : STATE_WORDS[t.on.state]}</span>
                  </span>
                </Button>
              ))}
              {open.length === 0 && <p className="muted">{say("Nothing that you may sign is ready.")}</p>}
            </div>
          </section>
          <Button type="primary" size="large" disabled={!complete} onClick={() => setAsking(true)}>
            {complete ? words(judged) : say("{reduce} points left to mark", { reduce: judged.reduce((n, t) => n + t.left, 0) })}
          </Button>
        </aside>
      </div>
      {asking && (
        <PinDialog
          title={words(judged)}
          act={words(judged)}
          noteLabel={say("Note (what to work on, what went well)")}
          onClose={() => setAsking(false)}
          onAct={sign}
        >
          <ul className="points">
            {judged.map((t) => (
              <li key={t.key}>
                <b>{t.entry.skill.name}</b>:{" "}
                {t.repeat.length === 0 ? "signed" : say("not yet; show again: {listed}", { listed: t.repeat.join("; ") })}
              </li>
            ))}
          </ul>
        </PinDialog>
      )}
    </main>
  );
}

/** Who called comes first, then what is ready, then refreshers that are due. */
function order(on: On): number {
  return on.called ? 0 : 1 + ["ready", "lapsed", "due_soon"].indexOf(on.state) + (on.state === "signed" ? 9 : 0);
}

type Judged = {
  done: boolean;
  stopped: boolean;
  left: number;
  repeat: string[];
  points: readonly Schema["PointView"][];
};

/** Which points are asked and what is still open; what follows from them is decided by the server. */
function judge(t: Taken, seen: Seen): Judged {
  const points = t.entry.skill.demonstrated ? t.entry.skill.points.filter((p) => !t.on.refresher || p.refresher) : [];
  const stopped = points.some((p) => p.critical && seen[p.number] === false);
  const left = stopped ? 0 : points.filter((p) => seen[p.number] === undefined).length;
  const repeat = points.filter((p) => seen[p.number] === false).map((p) => p.text);
  return { points, stopped, left, repeat, done: left === 0 };
}

function words(judged: readonly { repeat: string[] }[]): string {
  const good = judged.filter((t) => t.repeat.length === 0).length;
  const bad = judged.length - good;
  const parts = [good > 0 ? sayMany("Sign one skill", "Sign {count} skills", good) : "", bad > 0 ? say("{bad} not yet", { bad }) : ""];
  return parts.filter(Boolean).join(", ");
}

function Mark({ shape }: { shape: string }) {
  return (
    <svg width="22" height="22" viewBox="0 0 24 24" aria-hidden="true">
      <path d={shape} fill="none" stroke="currentColor" strokeWidth="2.6" />
    </svg>
  );
}
