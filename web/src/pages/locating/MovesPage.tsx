import { sure } from "../../shared/sure";
import { Waiting } from "../../shared/Loading";
import { Fold } from "../../shared/Fold";
import { Lines } from "../../shared/Lines";
import { Button, Input, Radio, Select } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Goes, Ring } from "../../instruments/Ring";
import { Working } from "../../instruments/Working";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import { dayOfYear, when } from "../../shared/time";
import "../../look/pictures.css";
import "../setup/setup.css";
import { Upright } from "../../instruments/axis";
import "./find.css";
import { Rich, say, sayMany } from "../../shared/say";
import { EntryForm } from "../../shared/EntryForm";
import { Refused } from "../../shared/Refused";

type Page = Schema["MovesPage"];
type Handle = Schema["HandleView"];
type Line = Schema["MoveLine"];

export const AXES = { x: "X", y: "Y", knee: say("Knee"), quill: say("Quill") };

/** From here to there at this machine's handles: turns, divisions, what the dial shows, and what takes up the slack. */
export default function MovesPage() {
  const { machine = "" } = useParams();
  const { data, error } = useQuery(queries.moves(machine));
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  return <Moves key={machine} page={data} />;
}

function Moves({ page: p }: { page: Page }) {
  const me = useMe();
  const [at, setAt] = useState(0);
  const [measuring, setMeasuring] = useState(false);
  const handle = sure(p.handles[at]);
  return (
    <main className="page stack">
      <div className="between">
        <div>
          <h1>{say("Moves on {name}", { name: p.machine.name })}</h1>
          <p className="muted">
            {say("{axes} handle, {place}: {per_turn} {unit} a turn, {graduations} divisions of {division}; {lost_words}.", {
              axes: AXES[handle.axis],
              place: handle.place,
              per_turn: handle.per_turn,
              unit: handle.unit,
              graduations: handle.graduations,
              division: handle.division,
              lost_words: handle.lost_words,
            })}
          </p>
        </div>
        <span className="row">
          <Link className="button" to="/reckon">
            {say("Reckoner")}
          </Link>
          <Link className="button nowrap" to={`/machines/${p.machine.id}`}>
            {say("The machine")}
          </Link>
        </span>
      </div>
      <div className="row" role="tablist">
        {p.handles.map((h) => (
          <Button
            key={h.index}
            role="tab"
            aria-selected={h.index === at}
            type={h.index === at ? "primary" : "default"}
            onClick={() => setAt(h.index)}
          >
            {AXES[h.axis]}, {h.place}
          </Button>
        ))}
      </div>
      <Series key={handle.index} page={p} handle={handle} />
      <section className="card pad stack">
        <div className="between">
          <h2>{say("How its backlash grew")}</h2>
          {me.role !== "auditor" && (
            <Button aria-expanded={measuring} onClick={() => setMeasuring(!measuring)}>
              {say("Measure it")}
            </Button>
          )}
        </div>
        {measuring && <Measure key={handle.index} machine={p.machine.id} handle={handle} onKept={() => setMeasuring(false)} />}
        <History points={p.history.filter((x) => x.axis === handle.axis && x.handle === handle.place)} />
        {p.wear && <p className="small muted">{p.wear}</p>}
      </section>
    </main>
  );
}

function Series({ page: p, handle: h }: { page: Page; handle: Handle }) {
  const [unit, setUnit] = useState(h.unit);
  const [start, setStart] = useState("0");
  const [dial, setDial] = useState("0");
  const [places, setPlaces] = useState("");
  const [side, setSide] = useState<1 | -1>(1);
  const [last, setLast] = useState<1 | -1>(1);
  const [step, setStep] = useState(0);
  const list = places.split(/[\s;,]+/).filter(Boolean);
  const q = { handle: h.index, unit, start: start.trim(), places: list, side, last, dial: dial.trim() };
  const asked = list.length > 0 && q.start !== "" && q.dial !== "";
  const { data, error } = useQuery({
    queryKey: ["moves-check", p.machine.id, q],
    queryFn: () => body(api.POST("/api/machines/{machine}/moves", { params: { path: { machine: p.machine.id } }, body: q })),
    placeholderData: (was: Schema["MovesAnswer"] | undefined) => was,
    enabled: asked,
    retry: false,
  });
  const legs = data?.lines.flatMap((l) => l.legs.map((leg) => ({ line: l, leg }))) ?? [];
  const now = legs[Math.min(step, legs.length - 1)];
  const one = h.grows === "clockwise" ? ["clockwise", "anticlockwise"] : ["anticlockwise", "clockwise"];
  return (
    <div className="setup-columns wide">
      <div className="stack">
        <section className="card pad stack">
          <div className="setup-form">
            <label className="asked">
              {say("I stand at, {unit}", { unit })}
              <Input inputMode="decimal" value={start} maxLength={20} onChange={(e) => setStart(e.target.value)} />
            </label>
            <label className="asked">
              {say("The dial shows, {unit}", { unit: h.unit })}
              <Input inputMode="decimal" value={dial} maxLength={20} onChange={(e) => setDial(e.target.value)} />
            </label>
            <label className="asked">
              {say("The drawing is in")}
              <Select
                value={unit}
                onChange={(picked) => setUnit(picked)}
                options={[
                  { value: "in", label: "in" },
                  { value: "mm", label: "mm" },
                ]}
              />
            </label>
          </div>
          <label className="asked">
            {say("Go to, {unit} (one or several)", { unit })}
            <Input value={places} maxLength={300} placeholder={say("for example 12.4, 30")} onChange={(e) => setPlaces(e.target.value)} />
          </label>
          <div className="setup-form">
            <Sense name={say("Approach each place")} value={side} turnings={one} onChange={setSide} />
            <Sense name={say("I turned last")} value={last} turnings={one} onChange={setLast} />
          </div>
          {data && <p className="small muted">{data.side}</p>}
          <Refused by={error} />
        </section>
        {data && <MoveList readout={h.readout} lines={data.lines} chosen={now?.leg} onChoose={(i) => setStep(i)} />}
        {data && data.working.length > 0 && (
          <Fold title={say("The working of the first move")}>
            <Working steps={data.working} />
          </Fold>
        )}
      </div>
      {now && (
        <section className="card pad stack move-now" data-at={step}>
          <h2>{say("To {place}", { place: now.line.place })}</h2>
          <div className="move-pictures">
            <Ring handle={h} at={now.leg.at} turning={now.leg.turning} said={now.leg.words.join(" ")} />
            <Goes way={now.leg.way} axis={h.axis} />
          </div>
          <ol className="points">
            {now.leg.words.map((x) => (
              <li key={x}>{x}</li>
            ))}
          </ol>
          <div className="row">
            <Button className="grow" disabled={step === 0} onClick={() => setStep(step - 1)}>
              {say("Back")}
            </Button>
            <Button type="primary" className="grow" disabled={step >= legs.length - 1} onClick={() => setStep(step + 1)}>
              {say("Done, next")}
            </Button>
          </div>
          <p className="caution small">
            <Rich
              text={
                "<b>Hand cranks free before a power feed or rapid is switched on.</b> Clear of the work when you go past and come back; mark whole turns as you count them."
              }
              with={{ b: <b /> }}
            />
          </p>
        </section>
      )}
    </div>
  );
}

function Sense({ name, value, turnings, onChange }: { name: string; value: 1 | -1; turnings: string[]; onChange: (v: 1 | -1) => void }) {
  return (
    <label className="asked">
      {name}
      <Select
        value={value}
        onChange={onChange}
        options={[
          { value: 1, label: say("turning {turnings}", { turnings: turnings[0] }) },
          { value: -1, label: say("turning {turnings}", { turnings: turnings[1] }) },
        ]}
      />
    </label>
  );
}

/** Places in the order in which they are come to, each with its legs. */
export function MoveList({
  readout,
  lines,
  chosen,
  onChoose,
}: {
  readout: boolean;
  lines: readonly Line[];
  chosen: Schema["LegView"] | undefined;
  onChoose: (leg: number) => void;
}) {
  const firsts = lines.map((_, i) => lines.slice(0, i).reduce((sum, l) => sum + l.legs.length, 0));
  return (
    <section className="card">
      <Lines
        className="move-list"
        rows={lines}
        rowKey={(l) => l.place}
        rowClassName={(l) => (chosen && l.legs.includes(chosen) ? "on" : "")}
        columns={[
          {
            key: "place",
            title: say("Place"),
            render: (_, l, i) => (
              <Button type="text" className="plain" onClick={() => onChoose(firsts[i] ?? 0)}>
                {l.place}
              </Button>
            ),
          },
          {
            key: "turn",
            title: say("Turn"),
            render: (_, l) => (
              <>
                <Legs legs={l.legs} />
                {l.rounding && <span className="small muted">{l.rounding}</span>}
              </>
            ),
          },
          { key: "dial", title: "dial", className: "num", render: (_, l) => <b>{l.reading}</b> },
          ...(readout ? [{ key: "readout", title: "readout", className: "num", render: (_: unknown, l: Line) => l.coordinate }] : []),
        ]}
      />
    </section>
  );
}

/** Legs in short: which way, whole turns, divisions. */
export function Legs({ legs }: { legs: readonly Schema["LegView"][] }) {
  if (legs.length === 0) return <span className="muted">{say("you stand there")}</span>;
  return (
    <>
      {legs.map((g, i) => (
        <span key={i} className="move-leg">
          {i > 0 && say("then ")}
          <span className={`move-turn ${g.turning}`}>{g.turning === "clockwise" ? "↻" : "↺"}</span>{" "}
          {g.turns > 0 && <>{sayMany("{count} turn", "{count} turns", g.turns)} </>}
          {g.divisions !== "0" && say("{divisions} div", { divisions: g.divisions })}
          {g.takes_up && <span className="small muted">{say(" with the slack")}</span>}
        </span>
      ))}
    </>
  );
}

function Measure({ machine, handle: h, onKept }: { machine: string; handle: Handle; onKept: () => void }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [middle, setMiddle] = useState(["", ""]);
  const [end, setEnd] = useState(["", ""]);
  const [numbers, setNumbers] = useState<"rise" | "fall" | null>(null);
  const given = (of: string[]) => of.map((x) => x.trim()).filter(Boolean);
  const keep = () =>
    act(async () => {
      const fresh = await body(
        api.POST("/api/machines/{machine}/backlash", {
          params: { path: { machine } },
          body: { id: newId(), handle: h.index, numbers: sure(numbers), middle: given(middle), end: given(end) },
        }),
      );
      client.setQueryData(queries.moves(machine).queryKey, fresh);
      void client.invalidateQueries({
        predicate: (q) => q.queryKey[0] === "moves-check" || q.queryKey[0] === "datums",
      });
      onKept();
    });
  const fields = (name: string, of: string[], set: (v: string[]) => void) => (
    <div className="setup-form">
      {of.map((v, i) => (
        <label key={i} className="asked">
          {say("{name}, reading {i}, {unit}", { name, i: i + 1, unit: h.unit })}
          <Input inputMode="decimal" value={v} maxLength={20} onChange={(e) => set(of.map((x, n) => (n === i ? e.target.value : x)))} />
        </label>
      ))}
    </div>
  );
  return (
    <EntryForm onSend={keep} yes={say("Save this measurement")} refused={error} busy={busy} ready={numbers !== null}>
      <ol className="points">
        <li>{say("Spindle stopped and isolated. An indicator on the table against something that stands still, lightly pressed in.")}</li>
        <li>{say("Turn the handle one way until the needle moves. Set the dial, not the needle, to zero.")}</li>
        <li>{say("Turn back slowly, and see whether the dial's numbers rise or fall. Read the dial the moment the needle moves again.")}</li>
        <li>{say("Twice in the middle of the travel, where the screw is worn, and twice near an end.")}</li>
      </ol>
      <Radio.Group
        aria-label={say("Turning back, the dial's numbers")}
        value={numbers}
        onChange={(e) => setNumbers(e.target.value as "rise" | "fall")}
        options={[
          { value: "rise", label: say("Turning back, the numbers rise") },
          { value: "fall", label: say("Turning back, the numbers fall") },
        ]}
      />
      {fields(say("In the middle"), middle, setMiddle)}
      {fields(say("Near an end"), end, setEnd)}
    </EntryForm>
  );
}

function History({ points }: { points: readonly Schema["LostPoint"][] }) {
  if (points.length === 0) return <p className="muted">{say("Nobody has measured it here yet. Moves use what the register says.")}</p>;
  const most = Math.max(...points.map((p) => Math.max(p.middle, p.end ?? 0)));
  const x = (i: number) => 72 + (i * 500) / Math.max(points.length - 1, 1);
  const y = (v: number) => 96 - (v / most) * 74;
  return (
    <>
      <svg
        viewBox="0 0 600 116"
        className="lost-plot"
        role="img"
        aria-label={say("Backlash, {count} measurements; the last: {words}", { count: points.length, words: sure(points.at(-1)).words })}
      >
        <path d="M56 14V96H590" className="plan-scale" />
        <Upright x={56} y={y} top={most} high={10} />
        <text x="60" y="112">
          {dayOfYear(sure(points[0]).at)}
        </text>
        <text x="590" y="112" textAnchor="end">
          {points.length > 1 ? dayOfYear(sure(points.at(-1)).at) : ""}
        </text>
        <polyline points={points.map((p, i) => `${x(i)},${y(p.middle)}`).join(" ")} className="lost-middle" />
        {points.map((p, i) => (
          <g key={p.at}>
            <circle cx={x(i)} cy={y(p.middle)} r="5" className="lost-dot" />
            {p.end !== null && <path d={`M${x(i) - 6} ${y(p.end)}H${x(i) + 6}`} className="lost-end" />}
          </g>
        ))}
      </svg>
      <p className="small muted">{say("● in the middle, ▬ near an end of the travel")}</p>
      <ul className="points">
        {points
          .slice(-4)
          .reverse()
          .map((p) => (
            <li key={p.at}>
              {p.words}
              {!p.confirmed && <b>{say(" Proposed: used once somebody who teaches, or another person's measurement, agrees.")}</b>}{" "}
              <span className="small muted">
                {p.by}, {when(p.at)}
              </span>
            </li>
          ))}
      </ul>
    </>
  );
}
