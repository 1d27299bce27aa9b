import { sure } from "../../shared/sure";
import { Waiting } from "../../shared/Loading";
import { Button, Input, Modal, Select } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, body, newId, Refusal, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import { when } from "../../shared/time";
import "../../look/pictures.css";
import "./rigs.css";
import { Lines } from "../../shared/Lines";
import { Rich, say, sayMany } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Card = Schema["RigCard"];
type Exercise = Schema["ExerciseView"];

/** The practice rigs: what each trains, how far one is, and what was set for the group. */
export default function RigsPage() {
  const me = useMe();
  const { data, error } = useQuery(queries.rigs());
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  const teaches = me.role === "instructor" || me.role === "assistant";
  return (
    <main className="page stack">
      <div>
        <h1>{say("Practice rigs")}</h1>
        <p className="muted">
          {say("Nothing here can be hurt. Whatever you learn at a rig you show again at the machine, with somebody beside you.")}
        </p>
      </div>
      {me.role === "student" && data.exercises.map((e) => <Mine key={e.id} exercise={e} />)}
      <div className="rig-cards">
        {data.rigs.map((r) => (
          <RigCard key={r.rig} card={r} mayRun={me.role !== "auditor"} />
        ))}
      </div>
      {teaches && <SetExercise rigs={data.rigs} groups={data.groups} />}
      {me.role !== "student" && (
        <section className="stack">
          <h2>{say("Exercises")}</h2>
          {data.exercises.length === 0 && (
            <p className="muted">
              {say("An exercise gives everybody of a group the same rig, level and seed. It will appear here with how everybody did.")}
            </p>
          )}
          {data.exercises.map((e) => (
            <Results key={e.id} exercise={e} />
          ))}
        </section>
      )}
    </main>
  );
}

function useBegin() {
  const navigate = useNavigate();
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [modal, asks] = Modal.useModal();
  const begin = (rig: string, level: number, guided: boolean, exercise: string | null, leave = false): Promise<boolean> =>
    act(async () => {
      let run;
      try {
        run = await body(api.POST("/api/rigs/runs", { body: { id: newId(), rig, level, guided, exercise, leave } }));
      } catch (refused) {
        if (!(refused instanceof Refusal) || refused.status !== 409 || leave) throw refused;
        modal.confirm({
          title: say("A run is still open on this rig"),
          content: refused.message,
          okText: say("Give up: counts as not reached"),
          cancelText: say("Cancel"),
          onOk: () => void begin(rig, level, guided, exercise, true),
        });
        return;
      }
      client.setQueryData(queries.rigRun(run.id).queryKey, run);
      void client.invalidateQueries({ queryKey: ["rigs"] });
      void navigate(`/rig/${run.id}`);
    });
  return { begin, error, busy, asks };
}

function RigCard({ card: c, mayRun }: { card: Card; mayRun: boolean }) {
  const { begin, error, busy, asks } = useBegin();
  const [level, setLevel] = useState(1);
  const chosen = c.levels.find((l) => l.number === level) ?? sure(c.levels[0]);
  return (
    <section className="card rig-card" data-rig={c.rig} aria-label={c.name}>
      <Emblem rig={c.rig} />
      <div className="pad stack">
        <div>
          <h2>{c.name}</h2>
          <p className="small">{c.about}</p>
        </div>
        <div className="rig-levels" role="radiogroup" aria-label={say("Level")}>
          {c.levels.map((l) => (
            <button
              key={l.number}
              role="radio"
              aria-checked={l.number === level}
              className={l.number === level ? "on" : ""}
              onClick={() => setLevel(l.number)}
            >
              <b>{l.number}</b> {l.name}
            </button>
          ))}
        </div>
        <p className="small muted rig-about">{chosen.about}</p>
        {mayRun && (
          <div className="row">
            <Button className="grow" disabled={busy} onClick={() => void begin(c.rig, level, true, null)}>
              {say("With guidance")}
            </Button>
            <Button type="primary" className="grow" disabled={busy} onClick={() => void begin(c.rig, level, false, null)}>
              {say("For the record")}
            </Button>
          </div>
        )}
        <Refused words={error} />
        {asks}
        {c.running && (
          <Link to={`/rig/${c.running}`} className="button">
            {say("Go on where you stopped")}
          </Link>
        )}
        {c.wanted > 0 && (
          <p className="small">
            <Streak done={c.in_a_row} wanted={c.wanted} />{" "}
            <Rich
              text={"to standard in a row at level {wanted_level} or above: evidence for <b>{skill}</b>."}
              values={{ wanted_level: c.wanted_level, skill: c.skill }}
              with={{ b: <b /> }}
            />
          </p>
        )}
        {c.last.length > 0 && (
          <ul className="rig-last">
            {c.last.map((r) => (
              <li key={r.id}>
                <Link to={`/rig/${r.id}`}>
                  <Mark good={r.passed} /> {say("level {level}", { level: r.level })}
                  {r.guided && say(", guided")}:{" "}
                  {r.passed ? sayMany("to standard in {count} pass", "to standard in {count} passes", r.passes) : r.reason}
                </Link>
              </li>
            ))}
          </ul>
        )}
      </div>
    </section>
  );
}

function Streak({ done, wanted }: { done: number; wanted: number }) {
  return (
    <span className="rig-streak" aria-label={say("{min} of {wanted}", { min: Math.min(done, wanted), wanted })}>
      {Array.from({ length: wanted }, (_, i) => (
        <i key={i} className={i < done ? "on" : ""} />
      ))}
      {say("{min} of {wanted}", { min: Math.min(done, wanted), wanted })}
    </span>
  );
}

/** To standard or not, as a mark of its own: a bar under the line or a bar across it. */
export function Mark({ good }: { good: boolean }) {
  return (
    <svg viewBox="0 0 18 18" width="18" height="18" aria-hidden="true" className={good ? "rig-mark good" : "rig-mark"}>
      <path d="M1 13H17" />
      {good ? <path d="M4 8 8 12 15 3" /> : <path d="M5 3 13 11M13 3 5 11" />}
    </svg>
  );
}

/** What the rig is about, as a few scribed lines on the plate. */
function Emblem({ rig }: { rig: string }) {
  return (
    <svg viewBox="0 0 320 96" className="rig-emblem" aria-hidden="true">
      <rect width="320" height="96" />
      {rig === "vise" && (
        <g transform="rotate(-4 160 50)">
          <path d="M90 24H230V40H90zM74 40H246V74H74z" />
          <path d="M90 40V74M230 40V74" />
          <circle cx="82" cy="57" r="5" />
          <circle cx="238" cy="57" r="5" />
        </g>
      )}
      {rig === "vise" && <path className="lit" d="M150 40V66M146 46L150 40 154 46" />}
      {rig === "head" && (
        <>
          <path d="M60 82H260" />
          <g transform="rotate(5 160 40)">
            <path d="M136 8H184V50H136zM148 50H172V66H148z" />
            <path className="lit" d="M160 66V74M160 72H210V80" />
          </g>
        </>
      )}
      {(rig === "handle" || rig === "way") && (
        <>
          <circle cx="160" cy="50" r="36" />
          <path d="M160 14V24M196 50H186M160 86V76M124 50H134" />
          <path
            className="lit"
            d={
              rig === "way"
                ? "M120 50H84M84 50l10 -8M84 50l10 8M200 50H236M236 50l-10 -8M236 50l-10 8"
                : "M160 50V22M214 24A60 60 0 0 1 214 76M214 76l2 -12M214 76l-11 -6"
            }
          />
        </>
      )}
      {rig === "edge" && (
        <>
          <path d="M170 40H260V82H170z" />
          <path className="lit" d="M140 8V34M132 34H152V62H132zM156 70H168" />
        </>
      )}
      {rig === "bore" && (
        <>
          <circle cx="160" cy="50" r="38" />
          <path d="M160 4V96M104 50H216" />
          <path className="lit" d="M160 50L190 32M184 28L194 30 190 40" />
        </>
      )}
      {rig === "reading" && (
        <>
          <path d="M60 36H260M60 60H260" />
          <path d="M80 36V52M104 36V46M128 36V46M152 36V46M176 36V46M200 36V52M224 36V46" />
          <path className="lit" d="M92 60V76M115 60V70M138 60V70M152 60V70M184 60V70M207 60V76" />
        </>
      )}
      {rig === "drawing" && (
        <>
          <path d="M90 34H190V50H230V76H90zM116 34V50H140V34" />
          <path className="lit" d="M90 30V10M190 30V10M90 16H190M98 12L90 16 98 20M182 12L190 16 182 20" />
        </>
      )}
      {rig === "planning" && (
        <>
          <path d="M46 34H102V76H46zM132 34H170V50H188V76H132zM218 34H226V46H240V34H256V50H274V76H218z" />
          <path className="lit" d="M170 34H188V50M226 34H240M110 56H122M118 52L123 56 118 60M196 56H208M204 52L209 56 204 60" />
        </>
      )}
      {rig === "trace" && (
        <>
          <path d="M90 30H150V46H176V30H230V78H90z" />
          <path className="lit" d="M176 22V10M186 22V10M160 16H174M188 16H202M170 12L175 16 170 20M192 12L187 16 192 20" />
        </>
      )}
      {rig === "hold" && (
        <>
          <path d="M60 86H260M100 86V40H60M220 86V40H260" />
          <path d="M100 72H220V22H100z" />
          <path className="lit" d="M100 86V72H112V86M208 86V72H220V86M100 22V38H140V22" />
        </>
      )}
    </svg>
  );
}

function Mine({ exercise: e }: { exercise: Exercise }) {
  const { begin, error, busy, asks } = useBegin();
  const m = e.mine;
  return (
    <section className="card pad row rig-exercise">
      <span className="grow">
        <b className="head">{say("Exercise for {group}: {name}, level {level}", { group: e.group, name: e.name, level: e.level })}</b>{" "}
        {e.words && <span className="said">“{e.words}”</span>}
        <span className="small muted"> {when(e.at)}</span>
        {m && (
          <span className="small">
            {" "}
            <Mark good={m.passed} />{" "}
            {m.passed ? sayMany("to standard in {count} pass", "to standard in {count} passes", m.passes) : m.ended ? m.reason : say("begun")}
          </span>
        )}
        {error && <span className="error">{error}</span>}
        {asks}
      </span>
      {m?.run && (
        <Link className="button" to={`/rig/${m.run}`}>
          {m.ended ? say("Look at it") : say("Go on")}
        </Link>
      )}
      {(!m || m.ended) && (
        <Button type={m ? "default" : "primary"} disabled={busy} onClick={() => void begin(e.rig, e.level, false, e.id)}>
          {m ? say("Do it again") : say("Start")}
        </Button>
      )}
    </section>
  );
}

function Results({ exercise: e }: { exercise: Exercise }) {
  const done = e.results.filter((r) => r.passed).length;
  return (
    <section className="card">
      <div className="between pad">
        <h3>{say("{name}, level {level}, {group}", { name: e.name, level: e.level, group: e.group })}</h3>
        <span className="small muted">{say("set {at}; {done} of {count} to standard", { at: when(e.at), done, count: e.results.length })}</span>
      </div>
      {e.words && <p className="pad said small">“{e.words}”</p>}
      <Lines
        rows={e.results}
        rowKey={(r) => r.student.id}
        showHeader={false}
        columns={[
          { key: "0", title: "", render: (_, r) => r.student.name },
          {
            key: "1",
            title: "",
            render: (_, r) => (
              <>
                {r.tries === 0 ? <span className="muted">{say("not begun")}</span> : !r.ended ? "begun" : <Mark good={r.passed} />}{" "}
                {r.passed ? say("to standard") : r.reason}
              </>
            ),
          },
          { key: "2", title: "", className: "num", render: (_, r) => (r.ended ? say("{passes} passes", { passes: r.passes }) : "") },
          {
            key: "3",
            title: "",
            className: "num",
            render: (_, r) => (r.tries > 0 ? sayMany("{count} try", "{count} tries", r.tries) : ""),
          },
          {
            key: "4",
            title: "",
            className: "num",
            render: (_, r) => r.run && <Link to={`/rig/${r.run}`}>{r.ended ? say("look at it") : say("watch")}</Link>,
          },
        ]}
      />
    </section>
  );
}

function SetExercise({ rigs, groups }: { rigs: readonly Card[]; groups: readonly Schema["Named"][] }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [rig, setRig] = useState(sure(rigs[0]).rig);
  const [level, setLevel] = useState(1);
  const [group, setGroup] = useState(groups[0]?.id ?? "");
  const [seed, setSeed] = useState("");
  const [words, setWords] = useState("");
  const levels = rigs.find((r) => r.rig === rig)?.levels ?? [];
  const send = () =>
    act(async () => {
      const fresh = await body(api.POST("/api/rigs/exercises", { body: { id: newId(), group, rig, level, seed, words } }));
      client.setQueryData(queries.rigs().queryKey, fresh);
      setWords("");
      setSeed("");
    });
  if (groups.length === 0) return <p className="muted">{say("A group is needed before an exercise can be set for it: see Class.")}</p>;
  return (
    <section className="card pad stack">
      <h2>{say("Set one for a group")}</h2>
      <div className="rig-form">
        <label className="asked">
          {say("Rig")}
          <Select
            showSearch={{ optionFilterProp: "label" }}
            value={rig}
            onChange={(picked) => setRig(picked)}
            options={[...rigs.map((r) => ({ value: r.rig, label: r.name }))]}
          />
        </label>
        <label className="asked">
          {say("Level")}
          <Select
            showSearch={{ optionFilterProp: "label" }}
            value={level}
            onChange={(picked) => setLevel(picked)}
            options={[...levels.map((l) => ({ value: l.number, label: `${l.number} ${l.name}` }))]}
          />
        </label>
        <label className="asked">
          {say("Group")}
          <Select
            showSearch={{ optionFilterProp: "label" }}
            value={group}
            onChange={(picked) => setGroup(picked)}
            options={[...groups.map((g) => ({ value: g.id, label: g.name }))]}
          />
        </label>
        <label className="asked">
          {say("Seed, empty for a new one")}
          <Input value={seed} maxLength={20} onChange={(e) => setSeed(e.target.value)} />
        </label>
        <label className="asked rig-words">
          {say("What to look out for")}
          <Input value={words} maxLength={300} onChange={(e) => setWords(e.target.value)} />
        </label>
        <Button type="primary" disabled={busy} onClick={() => void send()}>
          {say("Set it")}
        </Button>
      </div>
      <Refused words={error} />
    </section>
  );
}
