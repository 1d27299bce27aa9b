import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { useParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Keypad } from "../../instruments/Keypad";
import { Lines } from "../../shared/Lines";
import { Loading } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { Rich, say } from "../../shared/say";
import { sure } from "../../shared/sure";
import { when } from "../../shared/time";
import { useAct } from "../../shared/useAct";
import { Refused } from "../../shared/Refused";
import "./study.css";

type Study = Schema["StudyView"];
type Result = Schema["StudyResult"];

/** A repeated-readings study: everybody reads blind; at its end, how much is the gauge and how much the people. */
export default function StudyPage() {
  const { study = "" } = useParams();
  const me = useMe();
  const { data, error } = useQuery(queries.study(study));
  if (!data) return <Loading error={error} />;
  return (
    <main className="page stack">
      <header className="between">
        <div>
          <h1>{data.what}</h1>
          <p className="muted">
            {say("{gauge}; {parts} parts, each read {repeats} times. {group}, begun by {by}, {at}.", {
              gauge: data.gauge.name,
              parts: data.parts,
              repeats: data.repeats,
              group: data.group,
              by: data.by,
              at: when(data.at),
            })}
          </p>
        </div>
        {me.role === "instructor" && !data.ended && <End study={data} />}
      </header>
      {data.takes_part && <Reading key={`${data.id}${data.turn}`} study={data} />}
      {!data.ended && data.people.length > 0 && <Progress study={data} />}
      {data.ended && (data.result ? <Found study={data} result={data.result} /> : <Nothing />)}
    </main>
  );
}

function End({ study }: { study: Study }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const end = () =>
    act(async () => {
      const found = await body(api.POST("/api/studies/{study}/end", { params: { path: { study: study.id } } }));
      client.setQueryData(queries.study(study.id).queryKey, found);
      await client.invalidateQueries({ queryKey: ["studies"] });
    });
  return (
    <div>
      <Button type="primary" disabled={busy} onClick={() => void end()}>
        {say("End it and show everybody the result")}
      </Button>
      <Refused words={error} />
    </div>
  );
}

/** One's own next reading: nothing of what was read before is shown. */
function Reading({ study: s }: { study: Study }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [id] = useState(newId);
  const [again, setAgain] = useState(false);
  const [text, setText] = useState("");
  const save = () =>
    act(async () => {
      const turn = again ? s.turn - 1 : s.turn;
      const found = await body(
        api.POST("/api/studies/{study}/readings", { params: { path: { study: s.id } }, body: { id, turn, value: text.trim(), unit: s.unit } }),
      );
      setText("");
      setAgain(false);
      client.setQueryData(queries.study(s.id).queryKey, found);
    });
  if (s.part === null && !again) {
    return (
      <section className="card pad stack" role="status">
        <p>
          <b>{say("You have read everything.")}</b> {say("The result is shown when your instructor ends the study.")}
        </p>
        <LastOne study={s} onAgain={() => setAgain(true)} />
      </section>
    );
  }
  return (
    <section className="card pad study-read" aria-label={say("Your reading")}>
      <div className="stack">
        <p className="muted">{say("Reading {turn} of {of}", { turn: again ? s.turn - 1 : s.turn, of: s.parts * s.repeats })}</p>
        <p className="study-part">{again ? say("The same part again") : say("Part {part}", { part: sure(s.part) })}</p>
        <p className="small muted">
          {say("Wipe part and gauge, measure at the marked place, and type what it shows. Do not look at what others read.")}
        </p>
        {!again && <LastOne study={s} onAgain={() => setAgain(true)} />}
      </div>
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void save();
        }}
      >
        <label className="asked">
          {say("What it shows, {unit}", { unit: s.unit })}
          <Input autoFocus inputMode="decimal" maxLength={20} value={text} onChange={(e) => setText(e.target.value)} />
        </label>
        <Keypad
          onKey={(k) => setText(k === "⌫" ? text.slice(0, -1) : text + k)}
          onEnter={() => void save()}
          disabled={busy || !text.trim()}
          signed={false}
        />
        <Refused words={error} />
        <Button type="primary" size="large" htmlType="submit" className="study-save" disabled={busy || !text.trim()}>
          {say("Save reading")}
        </Button>
      </form>
    </section>
  );
}

function LastOne({ study: s, onAgain }: { study: Study; onAgain: () => void }) {
  if (!s.last) return null;
  return (
    <p className="row">
      <span className="muted">{say("Saved: {value} {unit}", { value: s.last, unit: s.unit })}</span>
      <Button size="small" onClick={onAgain}>
        {say("Mistyped: enter it again")}
      </Button>
    </p>
  );
}

function Progress({ study: s }: { study: Study }) {
  const turns = s.parts * s.repeats;
  return (
    <section className="card">
      <h2 className="pad">{say("How far everybody is")}</h2>
      <Lines
        rows={s.people}
        rowKey={(p) => p.person.id}
        showHeader={false}
        columns={[
          { key: "name", title: "", render: (_, p) => p.person.name },
          {
            key: "bar",
            title: "",
            render: (_, p) => (
              <span className="study-bar">
                <i style={{ width: `${(100 * p.done) / turns}%` }} />
              </span>
            ),
          },
          { key: "done", title: "", className: "num", render: (_, p) => say("{done} of {turns}", { done: p.done, turns }) },
        ]}
      />
    </section>
  );
}

function Nothing() {
  return (
    <section className="card pad">
      <p>{say("Fewer than two people have read everything: this study tells nothing.")}</p>
    </section>
  );
}

function Found({ study: s, result: r }: { study: Study; result: Result }) {
  const shares = [
    { key: "gauge", words: say("the gauge"), share: r.of_gauge, sigma: r.gauge },
    { key: "people", words: say("the people"), share: r.of_people, sigma: r.people },
  ];
  return (
    <>
      <section className={`card pad stack study-fit ${r.fit ?? ""}`}>
        <h2>{say("What the spread comes from")}</h2>
        <div className="study-shares" role="img" aria-label={shares.map((x) => `${x.words} ${String(x.share)} %`).join(", ")}>
          {shares.map((x) => (
            <i key={x.key} className={`of-${x.key}`} style={{ flexGrow: Math.max(x.share, 0.5) }} />
          ))}
        </div>
        <div className="row wraps study-legend">
          {shares.map((x) => (
            <span key={x.key} className="row">
              <i className={`of-${x.key}`} />
              <span>
                <Rich
                  text={"{words}: <b>{share} %</b>, standard deviation {sigma} {unit}"}
                  values={{ words: x.words, share: x.share, sigma: x.sigma, unit: s.unit }}
                  with={{ b: <b /> }}
                />
              </span>
            </span>
          ))}
        </div>
        <p className="small muted">
          {say("The parts themselves differ by a standard deviation of {parts} {unit}.", { parts: r.parts, unit: s.unit })}
        </p>
        <ul className="points">
          {r.said.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      </section>
      <section className="card pad stack">
        <h2>{say("Who read what")}</h2>
        <Chart study={s} />
        <p className="small muted">
          {say(
            "Each mark is one reading, by how far it is from the mean of all readings of that part. Close together across: the gauge repeats. Rows that lie high or low: people.",
          )}
        </p>
      </section>
    </>
  );
}

const WIDE = 720;
const ROW = 46;
const LEFT = 150;

/** A row for each person: their readings of part 1, 2, 3 … as marks beside the line of no difference. */
function Chart({ study: s }: { study: Study }) {
  const people = s.people.filter((p) => p.off.length > 0);
  const all = people.flatMap((p) => p.off.flat().map(Number));
  const most = Math.max(...all.map(Math.abs), Number.MIN_VALUE);
  const column = (WIDE - LEFT - 90) / s.parts;
  const high = people.length * ROW + 34;
  return (
    <svg
      viewBox={`0 0 ${String(WIDE)} ${String(high)}`}
      className="study-chart"
      role="img"
      aria-label={say("Readings of {count} people on {parts} parts", { count: people.length, parts: s.parts })}
    >
      {Array.from({ length: s.parts }, (_, n) => (
        <text key={n} x={LEFT + (n + 0.5) * column} y={14} textAnchor="middle" className="study-tick">
          {n + 1}
        </text>
      ))}
      <text x={WIDE - 4} y={14} textAnchor="end" className="study-tick">
        {say("on the whole, {unit}", { unit: s.unit })}
      </text>
      {people.map((p, row) => {
        const y = 24 + (row + 0.5) * ROW;
        return (
          <g key={p.person.id}>
            <text x={0} y={y + 5}>
              {p.person.name}
            </text>
            <line x1={LEFT} x2={WIDE - 88} y1={y} y2={y} className="study-zero" />
            {p.off.map((values, n) =>
              values.map((v, i) => (
                <circle
                  key={`${String(n)}-${String(i)}`}
                  cx={LEFT + (n + 0.5) * column + (i - (values.length - 1) / 2) * 9}
                  cy={y - (Number(v) / most) * (ROW / 2 - 5)}
                  r={4}
                  className="study-dot"
                >
                  <title>{say("{value}, {off} {unit} off", { value: sure(sure(p.readings[n])[i]), off: v, unit: s.unit })}</title>
                </circle>
              )),
            )}
            <text x={WIDE - 4} y={y + 5} textAnchor="end" className="study-bias">
              {p.bias}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
