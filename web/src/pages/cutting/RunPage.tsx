import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Progress } from "antd";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { PlanFrame } from "../../instruments/PlanFrame";
import { keep, type Entry } from "../../offline/queue";
import { keepSeen } from "../../offline/seen";
import { useQueue } from "../../offline/useQueue";
import { WaitingEntries } from "../../offline/WaitingEntries";
import { Waiting } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { Rich, say, sayMany } from "../../shared/say";
import { clock } from "../../shared/time";
import { Metronome } from "./Metronome";
import { Places } from "./Places";
import { Remarks } from "./Remarks";
import { StartDialog } from "./StartDialog";
import { Trouble } from "./Trouble";
import "./run.css";

type Card = Schema["RunCardView"];
type Step = Schema["RunStepView"];
type Tick = Entry & { kind: "run" };

/** The run card: one step at a time, to be read at two metres and touched with a knuckle. */
export default function RunPage() {
  const { assignment = "" } = useParams();
  const { data, error } = useQuery(queries.run(assignment));
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  if (data.cannot) {
    return (
      <main className="page stack">
        <h1>{say("Run card: {name}", { name: data.name })}</h1>
        <p className="caution">{data.cannot}</p>
        <Link className="button" to={`/job/${assignment}/plan`}>
          {say("Open the plan")}
        </Link>
      </main>
    );
  }
  return <Running card={data} />;
}

/** How far the card is when what waits in this browser is counted as done. */
function reached(card: Card, waiting: Tick[]): number {
  let at = card.at;
  for (const entry of waiting) {
    const number = card.steps.findIndex((s) => s.id === entry.body.step);
    if (number < 0) continue;
    if (entry.body.kind === "back") at = number;
    else if (number === at) at = number + 1;
  }
  return at;
}

function Running({ card }: { card: Card }) {
  const me = useMe();
  const client = useQueryClient();
  const own = me.id === card.student.id;
  const [looking, setLooking] = useState<number | null>(null);
  const [trouble, setTrouble] = useState(false);
  const { data: pictures } = useQuery(queries.runFrames(card.assignment, card.plan));
  const { entries, outcome, push } = useQueue(me.id, ({ entry, answer }) => {
    if (entry.kind !== "run" || !answer) return;
    client.setQueryData(queries.run(entry.assignment).queryKey, answer as Card);
    void keepSeen(`/api/job-cards/${entry.assignment}/run`, answer);
  });
  const mine = entries.filter((e): e is Tick => e.kind === "run" && e.attempt === card.attempt);
  const at = reached(
    card,
    mine.filter((e) => !e.refused),
  );
  const shown = Math.min(looking ?? at, card.steps.length - 1);
  const step = card.steps[shown];
  const over = at >= card.steps.length && looking === null;
  const act = async (kind: "done" | "reading" | "back", value = "", of = step?.id) => {
    if (!of) return;
    await keep(me.id, card.assignment, {
      kind: "run",
      attempt: card.attempt,
      body: { id: newId(), step: of, kind, value, at: new Date().toISOString() },
    });
    setLooking(null);
    void push();
  };
  const noticed = async (sign: string) => {
    if (!step) return;
    const told = { id: newId(), step: step.id, sign, at: new Date().toISOString() };
    await keep(me.id, card.assignment, { kind: "sign", attempt: card.attempt, body: told });
    void push();
  };
  if (!step) return <main className="page">{say("This plan has no steps yet.")}</main>;
  // how it is put in is seen at the first thing that is done to it there
  const drawn = step.operation || card.steps.find((s) => s.holding === step.holding && s.operation)?.operation;
  const frame = pictures?.frames.find((f) => f.operation === drawn);
  return (
    <main className="page stack run-page" data-at={at} data-of={card.steps.length}>
      <div className="between">
        <h1>{card.name}</h1>
        <p className="muted">
          {!own && `${card.student.name} · `}
          {card.machine?.name} ·{" "}
          {say("step {number} of {count} · about {minutes} min in all", {
            number: Math.min(shown + 1, card.steps.length),
            count: card.steps.length,
            minutes: card.minutes,
          })}
        </p>
      </div>
      {at === 0 && (
        <p className="row wraps no-print">
          {own && <Link to={`/job/${card.assignment}/dry`}>{say("Try it first without metal: the dry run")}</Link>}
          {["A4", "Letter"].map((paper) => (
            <a key={paper} href={`/api/job-cards/${card.assignment}/run.pdf?paper=${paper}`}>
              {say("Print, {paper}", { paper })}
            </a>
          ))}
          {card.paced && <span className="muted small">{card.paced}</span>}
        </p>
      )}
      <Progress percent={(100 * at) / card.steps.length} showInfo={false} strokeColor="var(--blue)" aria-label={say("How far the card is")} />
      <WaitingEntries entries={mine} outcome={outcome} />
      <Remarks card={card} step={step} />
      {card.closed && <p className="caution">{card.closed}</p>}
      {over ? (
        <Over card={card} />
      ) : (
        <section className={`card run-step ${step.kind}`} data-step={step.id} data-kind={step.kind}>
          <div className="run-words">
            {step.head && <p className="run-head">{step.head}</p>}
            <h2>{step.title}</h2>
            {step.do.map((line) => (
              <p key={line} className="run-do">
                {line}
              </p>
            ))}
            <Places of={step.go} />
            {step.per_turn > 0 && <Metronome key={step.id} seconds={step.per_turn} />}
            {step.why.map((line) => (
              <p key={line} className="muted">
                {line}
              </p>
            ))}
            {step.reading && (
              <p className={step.reading.good ? "run-said good" : "run-said bad"} role="status">
                <b>
                  {step.reading.value} {card.unit}:
                </b>{" "}
                {step.reading.words}
              </p>
            )}
          </div>
          {frame && (
            <figure className="run-picture">
              <PlanFrame frame={frame} said={frame.words} large />
              <figcaption>{frame.table}</figcaption>
            </figure>
          )}
          <div className="run-foot">
            {step.cautions.map((line) => (
              <p key={line} className="caution">
                {line}
              </p>
            ))}
            <p className="small muted">{say("The machine's manual and the shop's rules come first.")}</p>
            <Foot card={card} step={step} open={own && shown === at && !card.closed} onAct={(kind, value) => void act(kind, value)} />
          </div>
        </section>
      )}
      <div className="run-bar no-print">
        <Button size="large" disabled={shown === 0} onClick={() => setLooking(shown - 1)}>
          {say("Back")}
        </Button>
        {looking !== null && (
          <Button size="large" onClick={() => setLooking(shown + 1 >= at ? null : shown + 1)}>
            {say("Next")}
          </Button>
        )}
        {own && looking !== null && shown < at && !card.closed && (
          <Button size="large" danger onClick={() => void act("back")}>
            {say("Repeat from here")}
          </Button>
        )}
        <Button size="large" className="run-trouble" danger onClick={() => setTrouble(true)}>
          {say("Something is not right")}
        </Button>
      </div>
      {trouble && pictures && (
        <Trouble
          signs={pictures.signs}
          step={step}
          card={card}
          own={own}
          onNoticed={(sign) => void noticed(sign)}
          onAgain={(from) => {
            setTrouble(false);
            void act("back", "", from);
          }}
          onClose={() => setTrouble(false)}
        />
      )}
    </main>
  );
}

/** What ends a step: done, a reading, or the instructor. */
function Foot(p: { card: Card; step: Step; open: boolean; onAct: (kind: "done" | "reading", value?: string) => void }) {
  const { card, step } = p;
  const [value, setValue] = useState("");
  const [starting, setStarting] = useState(false);
  if (step.done && !p.open) {
    return <p className="muted">{say("Done at {at} by {by}.", { at: clock(step.done), by: step.by })}</p>;
  }
  if (!p.open) return null;
  if (step.held.length > 0) {
    return (
      <p className="caution">
        <Rich text={"<b>Hold point {what}:</b> call your instructor."} values={{ what: step.held.join(", ") }} with={{ b: <b /> }} />{" "}
        <Link className="button" to={`/job/${card.assignment}`}>
          {say("Open the job card")}
        </Link>
      </p>
    );
  }
  if (step.kind === "measure") {
    return (
      <form
        className="row run-reading"
        onSubmit={(event) => {
          event.preventDefault();
          if (value.trim()) p.onAct("reading", value.trim());
          setValue("");
        }}
      >
        <label className="grow">
          {say("Reading: {what}, in {unit}", { what: step.asks, unit: card.unit })}
          <Input size="large" inputMode="decimal" value={value} onChange={(e) => setValue(e.target.value)} />
        </label>
        <Button type="primary" size="large" htmlType="submit" disabled={!value.trim()}>
          {say("Save reading")}
        </Button>
      </form>
    );
  }
  return (
    <div className="row run-reading">
      {step.starts && card.machine && (
        <Button size="large" onClick={() => setStarting(true)}>
          {say("I am about to start")}
        </Button>
      )}
      {starting && card.machine && <StartDialog machine={card.machine} operation={step.skill} onClose={() => setStarting(false)} />}
      <Button type="primary" size="large" className="grow" onClick={() => p.onAct("done")}>
        {say("Done")}
      </Button>
    </div>
  );
}

function Over({ card }: { card: Card }) {
  return (
    <section className="card pad stack">
      <h2>{say("Every step is done.")}</h2>
      <p>
        {sayMany("It took {count} minute; the plan said {planned}.", "It took {count} minutes; the plan said {planned}.", card.spent, {
          planned: card.minutes,
        })}
      </p>
      <Link className="button first" to={`/job/${card.assignment}`}>
        {say("Measure the part")}
      </Link>
    </section>
  );
}
