import { Waiting } from "../../shared/Loading";
import { Button, Checkbox, Input, Select } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import { when } from "../../shared/time";
import "./rigs.css";
import { Studies } from "./Studies";
import "./exercises.css";
import { Lines } from "../../shared/Lines";
import { Rich, say, sayMany } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Card = Schema["ExerciseCard"];

/** The exercises: what one must master and how far one is; sheets for a group; what goes wrong most. */
export default function ExercisesPage() {
  const me = useMe();
  const { data, error } = useQuery(queries.exercises());
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  const student = me.role === "student";
  const groups = [...new Set(data.cards.map((c) => c.group))];
  const wanted = data.cards.filter((c) => c.wanted > 0 && c.in_a_row < c.wanted);
  const first = wanted.find((c) => c.answered > 0) ?? wanted[0];
  return (
    <main className="page stack">
      <div>
        <h1>{say("Exercises")}</h1>
        <p className="muted">
          {say(
            "Questions from this shop's own machines, cutters and materials. You answer first; then the working is shown, from where it went wrong.",
          )}
        </p>
      </div>
      {student && first && (
        <section className="card pad row exercise-next">
          <span className="grow">
            <Rich
              text={"<b>{name}</b>: {in_a_row} right in a row, {wanted} wanted without help, for <b2>{skill}</b2>."}
              values={{ name: first.name, in_a_row: first.in_a_row, wanted: first.wanted, skill: first.skill }}
              with={{ b: <b className="head" />, b2: <b /> }}
            />
          </span>
          <Link to={`/exercises/${first.calculation}`} className="button first big">
            {first.answered > 0 ? say("Go on") : say("Begin")}
          </Link>
        </section>
      )}
      <Studies />
      {data.sheets.length > 0 && <Sheets sheets={data.sheets} student={student} />}
      {!student && (
        <div className="exercise-two">
          {data.slips.map((g) => (
            <Slips key={g.group} slips={g.slips} title={say("{group}: what goes wrong most, in 60 days", { group: g.group })} />
          ))}
        </div>
      )}
      <div className="exercise-groups">
        {groups.map((g) => (
          <section key={g} className="card pad">
            <h2>{g}</h2>
            {data.cards
              .filter((c) => c.group === g)
              .map((c) => (
                <CardLine key={c.calculation} card={c} mayAnswer={me.role !== "auditor"} />
              ))}
          </section>
        ))}
      </div>
      {me.role === "instructor" && <SetSheet cards={data.cards} groups={data.groups} />}
    </main>
  );
}

function CardLine({ card: c, mayAnswer }: { card: Card; mayAnswer: boolean }) {
  const words =
    c.wanted > 0
      ? say("{min} of {wanted} in a row", { min: Math.min(c.in_a_row, c.wanted), wanted: c.wanted })
      : c.answered > 0
        ? say("{right} of {answered} right", { right: c.right, answered: c.answered })
        : "";
  const line = (
    <>
      <span className="grow">{c.name}</span>
      {c.wanted > 0 && <Row done={c.in_a_row} wanted={c.wanted} />}
      <span className="small muted exercise-words">{words}</span>
    </>
  );
  return mayAnswer ? (
    <Link to={`/exercises/${c.calculation}`} className="exercise-line">
      {line}
    </Link>
  ) : (
    <p className="exercise-line">{line}</p>
  );
}

/** Right answers in a row, as notches on a scale. */
export function Row({ done, wanted }: { done: number; wanted: number }) {
  return (
    <svg
      viewBox={`0 0 ${wanted * 9 + 2} 20`}
      width={wanted * 9 + 2}
      height="20"
      role="img"
      aria-label={say("{min} of {wanted} in a row", { min: Math.min(done, wanted), wanted })}
      className="exercise-row"
    >
      <path d={`M0 17H${wanted * 9 + 2}`} />
      {Array.from({ length: wanted }, (_, i) => (
        <path key={i} d={`M${i * 9 + 5} 17V${i < done ? 2 : 11}`} className={i < done ? "on" : ""} />
      ))}
    </svg>
  );
}

function Sheets({ sheets, student }: { sheets: readonly Schema["SheetLine"][]; student: boolean }) {
  return (
    <section className="card">
      <h2 className="pad">{say("Sheets")}</h2>
      <Lines
        rows={sheets}
        rowKey={(s) => s.id}
        showHeader={false}
        columns={[
          {
            key: "0",
            title: "",
            render: (_, s) => (
              <>
                <Link to={`/sheet/${s.id}`}>{s.title}</Link>
                {s.words && <div className="small muted">{s.words}</div>}
              </>
            ),
          },
          {
            key: "1",
            title: "",
            className: "small muted",
            render: (_, s) => (
              <>
                {!student && `${s.group}, `}
                {when(s.at)}
              </>
            ),
          },
          {
            key: "2",
            title: "",
            className: "num",
            render: (_, s) =>
              student
                ? say("{done} of {count} answered, {right} right", { done: s.done, count: s.count, right: s.right })
                : say("{done} answers, {right} right", { done: s.done, right: s.right }),
          },
        ]}
      />
    </section>
  );
}

/** Slips, the most frequent first, each as long as it is frequent. */
export function Slips({ slips, title }: { slips: readonly Schema["SlipLine"][]; title: string }) {
  const most = Math.max(1, ...slips.map((s) => s.times));
  return (
    <section className="card pad stack">
      <h2>{title}</h2>
      {slips.length === 0 && (
        <p className="muted">{say("No answer so far was a slip that can be named. They will appear here, the most frequent first.")}</p>
      )}
      {slips.slice(0, 8).map((s) => (
        <div key={s.calculation + s.slip} className="exercise-slip">
          <span>
            {s.slip} <span className="small muted">{s.name}</span>
          </span>
          <span className="exercise-bar">
            <i style={{ width: `${(100 * s.times) / most}%` }} />
          </span>
          <span className="small exercise-who">
            {sayMany("{count} time: {names}", "{count} times: {names}", s.times, { names: s.students.slice(0, 3).join(", ") })}
            {s.students.length > 3 && say(" and {count} more", { count: s.students.length - 3 })}
          </span>
        </div>
      ))}
    </section>
  );
}

function SetSheet({ cards, groups }: { cards: readonly Card[]; groups: readonly Schema["Named"][] }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [group, setGroup] = useState(groups[0]?.id ?? "");
  const [title, setTitle] = useState("");
  const [words, setWords] = useState("");
  const [each, setEach] = useState(2);
  const [picked, setPicked] = useState<string[]>([]);
  const [inClass, setInClass] = useState(false);
  const send = () =>
    act(async () => {
      const made = await body(
        api.POST("/api/exercise-sheets", {
          body: { id: newId(), group, title, words, each, calculations: picked, seed: "", in_class: inClass },
        }),
      );
      client.setQueryData(queries.sheet(made.id).queryKey, made);
      await client.invalidateQueries({ queryKey: ["exercises"] });
      void navigate(`/sheet/${made.id}`);
    });
  if (groups.length === 0) return <p className="muted">{say("A group is needed before a sheet can be set for it: see Class.")}</p>;
  return (
    <section className="card pad stack" aria-label={say("Set a sheet")}>
      <h2>{say("Set a sheet for a group")}</h2>
      <div className="exercise-pick" role="group" aria-label={say("Calculations")}>
        {cards.map((c) => (
          <Checkbox
            key={c.calculation}
            className={picked.includes(c.calculation) ? "on" : ""}
            checked={picked.includes(c.calculation)}
            onChange={(e) => setPicked(e.target.checked ? [...picked, c.calculation] : picked.filter((x) => x !== c.calculation))}
          >
            {c.name}
          </Checkbox>
        ))}
      </div>
      <Checkbox className="exercise-in-class" checked={inClass} onChange={(e) => setInClass(e.target.checked)}>
        {say("In class: the reckoner is closed to the group and results are shown when you end the sheet; only then do they count")}
      </Checkbox>
      <div className="exercise-form">
        <label className="asked">
          {say("Title")}
          <Input value={title} maxLength={80} onChange={(e) => setTitle(e.target.value)} />
        </label>
        <label className="asked">
          {say("What to look out for")}
          <Input value={words} maxLength={300} onChange={(e) => setWords(e.target.value)} />
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
          {say("Of each")}
          <Select
            showSearch={{ optionFilterProp: "label" }}
            value={each}
            onChange={(picked) => setEach(picked)}
            options={[...[1, 2, 3, 5].map((n) => ({ value: n, label: n }))]}
          />
        </label>
        <Button type="primary" disabled={busy || picked.length === 0 || title.trim().length < 3} onClick={() => void send()}>
          {say("Set {count} questions", { count: picked.length * each })}
        </Button>
      </div>
      <Refused words={error} />
    </section>
  );
}
