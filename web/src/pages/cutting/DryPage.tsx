import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, InputNumber, Progress, Segmented } from "antd";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { PlanFrame } from "../../instruments/PlanFrame";
import { Ring } from "../../instruments/Ring";
import { Lines } from "../../shared/Lines";
import { Waiting } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { say } from "../../shared/say";
import { useAct } from "../../shared/useAct";
import { Refused } from "../../shared/Refused";
import "../../look/pictures.css";
import "./run.css";
import "./dry.css";

type Dry = Schema["DryRunView"];
type Turn = Schema["SaidTurn"];
type Place = Schema["DryPlace"];

const turned = (t: Turn) => t.turns > 0 || t.reading !== "";
const NOT_TURNED: Turn = { turning: "clockwise", turns: 0, reading: "" };

/** One's own plan on a simulated machine: what is turned is said, and at the end the part is measured. */
export default function DryPage() {
  const { assignment = "" } = useParams();
  const me = useMe();
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const { data: dry, error: missing } = useQuery(queries.dry(assignment));
  if (!dry) return <main className="page">{missing ? <p className="error">{missing.message}</p> : <Waiting />}</main>;
  const own = me.id === dry.student.id;
  const take = (answer: Dry) => {
    client.setQueryData(queries.dry(assignment).queryKey, answer);
  };
  const begin = () =>
    void act(async () => {
      take(await body(api.POST("/api/job-cards/{assignment}/dry", { params: { path: { assignment } }, body: { id: newId() } })));
    });
  const perform = (places: Turn[][]) =>
    void act(async () => {
      if (!dry.run || !dry.step) return;
      take(
        await body(
          api.POST("/api/dry-runs/{run}/acts", {
            params: { path: { run: dry.run } },
            body: { id: newId(), number: dry.at + 1, step: dry.step.id, places },
          }),
        ),
      );
    });
  return (
    <main className="page stack run-page" data-at={dry.at} data-of={dry.of}>
      <div className="between">
        <h1>{say("Dry run: {name}", { name: dry.name })}</h1>
        {dry.run && (
          <p className="muted">
            {!own && `${dry.student.name} · `}
            {dry.machine} · {say("step {number} of {count}", { number: Math.min(dry.at + 1, dry.of), count: dry.of })}
          </p>
        )}
      </div>
      <Refused words={error} />
      {dry.cannot && (
        <>
          <p className="caution">{dry.cannot}</p>
          <Link className="button" to={`/job/${assignment}/plan`}>
            {say("Open the plan")}
          </Link>
        </>
      )}
      {dry.run && (
        <Progress percent={(100 * dry.at) / dry.of} showInfo={false} strokeColor="var(--blue)" aria-label={say("How far the dry run is")} />
      )}
      {dry.newer && <p className="caution">{say("The plan was changed since this dry run was begun. It goes on with the plan as it was.")}</p>}
      {dry.step && <Step key={`${dry.run}${dry.at}`} dry={dry} open={own} busy={busy} onDo={perform} />}
      {dry.outcome && <Outcome outcome={dry.outcome} />}
      {!dry.cannot && !dry.step && own && (
        <section className="card pad stack">
          {!dry.run && (
            <p>
              {say(
                "Work through your plan on a simulated machine with the dials and the backlash of the real one, and its head and vise as last accepted. You say what you turn and to which reading; at the end the part is measured.",
              )}
            </p>
          )}
          <Button type="primary" size="large" disabled={busy} onClick={begin}>
            {dry.run ? say("Start over") : say("Start the dry run")}
          </Button>
        </section>
      )}
      {!dry.cannot && !dry.run && !own && <p className="muted">{say("No dry run yet.")}</p>}
      {dry.step && own && (
        <p>
          <Button type="link" disabled={busy} onClick={begin}>
            {say("Start over")}
          </Button>
        </p>
      )}
    </main>
  );
}

function Step({ dry, open, busy, onDo }: { dry: Dry; open: boolean; busy: boolean; onDo: (places: Turn[][]) => void }) {
  const step = dry.step;
  const [turns, setTurns] = useState<Turn[][]>(() => (step?.places ?? []).map(() => [NOT_TURNED]));
  const { data: pictures } = useQuery({ ...queries.runFrames(dry.assignment, dry.plan), enabled: !dry.newer, retry: false });
  if (!step) return null;
  const frame = pictures?.frames.find((f) => f.operation === step.operation);
  const still = turns.some((legs) => !legs.some(turned));
  const change = (place: number, legs: Turn[]) => {
    setTurns(turns.map((t, n) => (n === place ? legs : t)));
  };
  return (
    <>
      {dry.said && (
        <p className="run-said good" role="status">
          {dry.said}
        </p>
      )}
      <section className={`card run-step ${step.kind}`} data-step={step.id} data-kind={step.kind}>
        <div className="run-words">
          {step.head && <p className="run-head">{step.head}</p>}
          <h2>{step.title}</h2>
          {step.do.map((line) => (
            <p key={line} className="run-do">
              {line}
            </p>
          ))}
          {step.why.map((line) => (
            <p key={line} className="muted">
              {line}
            </p>
          ))}
        </div>
        {frame && (
          <figure className="run-picture">
            <PlanFrame frame={frame} said={frame.words} large />
          </figure>
        )}
        <div className="run-foot">
          {step.places.map((place, n) => (
            <Turned key={n} place={place} legs={turns[n] ?? []} open={open} onChange={(legs) => change(n, legs)} />
          ))}
          {open && (
            <Button type="primary" size="large" disabled={busy} onClick={() => onDo(turns.map((legs) => legs.filter(turned)))}>
              {doing(step, still)}
            </Button>
          )}
        </div>
      </section>
    </>
  );
}

/** What the button does: it says so when a handle stays where it is. */
function doing(step: Schema["DryStep"], still: boolean): string {
  if (step.places.length === 0) return step.kind === "pass" || step.kind === "hole" ? say("Cut") : say("Done");
  if (step.kind !== "pass" && step.kind !== "hole") return still ? say("Set to 0 without turning") : say("Turn and set to 0");
  return still ? say("Cut without turning") : say("Turn and cut");
}

/** What is turned for one place: the dial as it stands, and which way, how many turns and to which reading. */
function Turned({ place: p, legs, open, onChange }: { place: Place; legs: Turn[]; open: boolean; onChange: (legs: Turn[]) => void }) {
  const [told, setTold] = useState(false);
  const set = (n: number, change: Partial<Turn>) => onChange(legs.map((t, i) => (i === n ? { ...t, ...change } : t)));
  return (
    <div className="dry-place" data-axis={p.axis}>
      <Ring handle={p.dial} at={p.dial.at} turning={null} said={say("{axis} dial shows {shows}", { axis: p.axis, shows: p.dial.shows })} />
      <div className="stack grow">
        <p className="run-do">
          <b>{p.place}</b>
        </p>
        <p className="small muted">
          {p.zero
            ? say("{handle}. The ring is at 0 as it touches.", { handle: p.handle })
            : say("{handle}. Now {shows}, {per_turn} a turn. Clockwise: {part} {way}.", {
                handle: p.handle,
                shows: p.dial.shows,
                per_turn: p.dial.per_turn,
                part: p.axis === "Z" ? p.dial.axis : say("table"),
                way: p.dial.clockwise,
              })}
        </p>
        {open &&
          legs.map((t, n) => (
            <div key={n} className="row wraps dry-turn">
              <Segmented<Turn["turning"]>
                size="large"
                value={t.turning}
                options={[
                  { value: "clockwise", label: say("Clockwise") },
                  { value: "anticlockwise", label: say("Anticlockwise") },
                ]}
                onChange={(turning) => set(n, { turning })}
              />
              <label>
                {say("whole turns")}
                <InputNumber size="large" min={0} max={200} precision={0} value={t.turns} onChange={(v) => set(n, { turns: v ?? 0 })} />
              </label>
              <label>
                {say("until the dial shows, {unit}", { unit: p.dial.unit })}
                <Input size="large" inputMode="decimal" value={t.reading} onChange={(e) => set(n, { reading: e.target.value })} />
              </label>
            </div>
          ))}
        {open && (
          <div className="row wraps">
            {legs.length < 3 && <Button onClick={() => onChange([...legs, NOT_TURNED])}>{say("Add a turn")}</Button>}
            {legs.length > 1 && <Button onClick={() => onChange(legs.slice(0, -1))}>{say("Remove the last turn")}</Button>}
            <Button type="link" onClick={() => setTold(!told)}>
              {told ? say("Hide the card") : say("What does the card say?")}
            </Button>
          </div>
        )}
        {told && (
          <ul className="points">
            {p.told.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        )}
      </div>
    </div>
  );
}

/** The part as it came out, and which acts put it off. */
function Outcome({ outcome: o }: { outcome: Schema["DryOutcome"] }) {
  const bad = o.lines.filter((l) => !l.good).length;
  return (
    <>
      <p className={bad === 0 ? "run-said good" : "run-said bad"} role="status">
        {bad === 0
          ? say("Every size is within its limits.")
          : say("{count} of {all} sizes are out of their limits.", { count: bad, all: o.lines.length })}
      </p>
      {bad > 0 && o.right && <p className="run-said">{say("You did everything as the card says: what is out is how the machine stands.")}</p>}
      {o.causes.length > 0 && (
        <section className="card pad stack">
          <h2>{say("What went wrong")}</h2>
          <ol className="points">
            {o.causes.map((c, n) => (
              <li key={n}>
                <b>{c.words}</b> {c.step}
                {c.numbers.length > 0 ? ` · ${say("spoilt no. {numbers}", { numbers: c.numbers.join(", ") })}` : ` · ${say("spoilt nothing")}`}
              </li>
            ))}
          </ol>
        </section>
      )}
      <div className="card">
        <Lines
          rows={o.lines}
          rowKey={(l) => l.number}
          rowClassName={(l) => (l.good ? "" : "run-out")}
          columns={[
            { key: "number", title: say("No."), render: (_, l) => l.number },
            { key: "name", title: say("Measured"), render: (_, l) => l.name },
            { key: "limits", title: say("Limits"), className: "num", render: (_, l) => l.limits },
            { key: "read", title: say("Reading"), className: "num", render: (_, l) => <b>{l.read}</b> },
          ]}
        />
      </div>
      <p className="small muted">
        {say(
          "Simulated: true cutters and screws with their play. Depths of holes and countersinks, and finishes, are taken as the card says. A real machine also bends, wears and warms up: measure there as the card says.",
        )}
      </p>
    </>
  );
}
