import { Button } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Scale, STATIONS } from "../../instruments/StationRule";
import { AccommodationsHere } from "../../shared/Accommodation";
import { Loading } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { ago } from "../../shared/time";
import { useAct } from "../../shared/useAct";
import { PinDialog } from "../../shared/PinDialog";
import { Fold } from "../../shared/Fold";
import { Line } from "./Line";
import { MACHINE_WORDS, MachineMark } from "./MachineState";
import { Plan } from "./FloorPlan";
import "./floor.css";
import { Rich, say, sayMany } from "../../shared/say";
import { Refused } from "../../shared/Refused";

/** The instructor's home: the machines as they stand, and the line of who waits for them. */
export default function FloorPage() {
  const { data, error } = useQuery(queries.floor());
  const me = useMe();
  if (!data) return <Loading error={error} />;
  const running = data.plates.filter((p) => p.spindle).length;
  const now = new Date(data.as_of);
  return (
    <main className="page floor">
      <section>
        <div className="floor-head">
          <h1>{say("Floor")}</h1>
          <p className="muted grow">
            <SessionWords session={data.session} /> {say("{running} of {count} spindles are turning.", { running, count: data.plates.length })}
          </p>
          {me.role === "instructor" && !data.stopped && <StopAll />}
        </div>
        {data.stopped && <Stopped stopped={data.stopped} />}
        {!data.session && me.role === "instructor" && <Missing />}
        <div className="plates">
          {data.plates.map((p) => (
            <PlateBox key={p.machine.id} plate={p} now={now} />
          ))}
        </div>
        {data.elsewhere.length > 0 && (
          <section className="card pad floor-elsewhere">
            <h3>{say("At the bench, no machine named")}</h3>
            {data.elsewhere.map((a) => (
              <Work key={a.assignment} work={a} now={now} />
            ))}
          </section>
        )}
        <AccommodationsHere />
      </section>
      <section>
        <div className="floor-head">
          <h1>{say("The line")}</h1>
          <p className="muted">{waiting(data.line)}</p>
        </div>
        <Line line={data.line} now={now} />
      </section>
    </main>
  );
}

function waiting(line: readonly Schema["Waiting"][]): string {
  const calls = line.filter((w) => w.call).length;
  if (line.length === 0) return say("nobody is waiting for you");
  if (calls === 0) return sayMany("{count} waits", "{count} wait", line.length);
  return sayMany(
    "{count} waits, at a machine or with a skill to show",
    "{count} wait, {calls} of them at a machine or with a skill to show",
    line.length,
    { calls },
  );
}

function SessionWords({ session: s }: { session: Schema["SessionNow"] | null | undefined }) {
  if (!s) {
    return (
      <>
        <Rich text={"<a>No session is open:</a> no start is enabled."} with={{ a: <Link to="/session" /> }} />
      </>
    );
  }
  return (
    <>
      <Rich
        text={"<a>{group}</a>, {here} of {expected} here,"}
        values={{ group: s.group, here: s.here, expected: s.expected }}
        with={{ a: <Link to="/session" /> }}
      />{" "}
      {s.supervisors.length ? (
        sayMany("{names} supervises.", "{names} supervise.", s.supervisors.length, { names: s.supervisors.join(say(" and ")) })
      ) : (
        <b className="needs">{say("nobody supervises")}</b>
      )}
    </>
  );
}

/** While nothing is open: what a session cannot be opened without. */
function Missing() {
  const { data } = useQuery(queries.ready());
  if (!data || data.missing === 0) return null;
  return (
    <p className="caution">
      {sayMany(
        "{count} thing is missing before a session can be opened.",
        "{count} things are missing before a session can be opened.",
        data.missing,
      )}{" "}
      <Link className="button" to="/shop/ready">
        {say("Before the first class")}
      </Link>
    </p>
  );
}

/** Two touches: the first arms it for a few seconds, the second stops everything. No PIN: seconds count. */
function StopAll() {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [armed, setArmed] = useState(false);
  const [id] = useState(newId);
  const stop = () =>
    act(async () => {
      await body(api.POST("/api/stops", { body: { id, reason: "" } }));
      await client.invalidateQueries({ queryKey: ["floor"] });
    });
  const arm = () => {
    setArmed(true);
    setTimeout(() => setArmed(false), 6000);
  };
  return (
    <span className="row">
      {error && <span className="error">{error}</span>}
      <Button danger className={armed ? "armed" : ""} disabled={busy} onClick={() => (armed ? void stop() : arm())}>
        {armed ? say("Touch again: stop all now") : say("Stop all")}
      </Button>
    </span>
  );
}

function Stopped({ stopped }: { stopped: Schema["StopView"] }) {
  const client = useQueryClient();
  const me = useMe();
  const [asking, setAsking] = useState(false);
  const clear = async (pin: string, note: string) => {
    await body(api.POST("/api/stops/clear", { body: { note, pin } }));
    await client.invalidateQueries();
  };
  return (
    <div className="error row stopped" role="alert">
      <span className="grow">
        <Rich
          text={
            "<b>All machines are stopped</b> by {by}. Spindles and feeds stand; nothing can be started. This stand-in is no safety system: the machines' own stops come first."
          }
          values={{ by: stopped.by }}
          with={{ b: <b /> }}
        />
      </span>
      {me.role === "instructor" && <Button onClick={() => setAsking(true)}>{say("Lift the stop")}</Button>}
      {asking && (
        <PinDialog
          title={say("Lift the stop of all machines")}
          act={say("It is safe again")}
          noteLabel={say("What was done")}
          noteNeeded
          onClose={() => setAsking(false)}
          onAct={clear}
        >
          <p>{say("Nothing starts by itself: every start is asked for again.")}</p>
        </PinDialog>
      )}
    </div>
  );
}

function PlateBox({ plate, now }: { plate: Schema["Plate"]; now: Date }) {
  const state = plate.state;
  return (
    <article className={`card machine ${plate.alarm ? "machine-alarmed" : ""}`} data-machine={plate.machine.name}>
      <div className="between">
        <h2 className="machine-name">
          <Link to={`/start/${plate.machine.id}`}>{plate.machine.name}</Link>
        </h2>
        <span className={`machine-state machine-${state}`}>
          <MachineMark state={state} />
          {MACHINE_WORDS[state]}
        </span>
      </div>
      <Refused words={plate.tagged_out} />
      <Plan plate={plate} />
      {plate.run && (
        <p className="machine-run">
          <b className="head">{plate.run.operation}</b>
          <span className="small muted">
            {" "}
            {ago(plate.run.since, now).join(" ")}
            {plate.run.beside && say(", {beside} beside", { beside: plate.run.beside })}
          </span>
        </p>
      )}
      {plate.alarm && (
        <p className="error" role="alert">
          {plate.run ? plate.run.reasons.join(" ") : say("The spindle is turning and nobody was given a start.")}
        </p>
      )}
      {plate.at_work.map((a) => (
        <Work key={a.assignment} work={a} now={now} />
      ))}
      {plate.stands.length === 0 && plate.at_work.length === 0 && <p className="muted small">{plate.about}</p>}
      <Fold className="machine-foot small" title={say("Who may work here")}>
        <Cards words={say("Job cards here: ")} cards={plate.next_up.filter((n) => !n.missing)} />
        <Cards words={say("Sign-offs missing: ")} cards={plate.next_up.filter((n) => n.missing)} />
        <p>
          <span className="muted">{say("May run unsupervised: ")}</span>
          {plate.may_alone.length ? plate.may_alone.map((n) => n.split(" ")[0]).join(", ") : say("nobody yet")}
        </p>
      </Fold>
    </article>
  );
}

const MOST = 4;

function Cards({ words, cards }: { words: string; cards: readonly Schema["NextUp"][] }) {
  if (cards.length === 0) return null;
  return (
    <p>
      <span className="muted">{words}</span>
      {cards.slice(0, MOST).map((n, i) => (
        <span key={n.assignment}>
          {i > 0 && ", "}
          <Link to={`/job/${n.assignment}`}>{n.student.name}</Link>
        </span>
      ))}
      {cards.length > MOST && say(" and {count} more", { count: cards.length - MOST })}
    </p>
  );
}

function Work({ work, now }: { work: Schema["AtWork"]; now: Date }) {
  const station = STATIONS.find((s) => s.id === work.now)?.name;
  const [minutes, unit] = ago(work.since, now);
  return (
    <div className="work">
      <span className="between">
        <span>
          <Link to={`/job/${work.assignment}`}>{work.student.name}</Link> <span className="muted">{work.name}</span>
        </span>
        <span className="small nowrap">
          <b className="is-blue">{station}</b> {minutes} {unit}
        </span>
      </span>
      <Scale pointer={work.pointer} ticks={42} />
      {work.at_step && (
        <span className="small muted">
          {work.at_step}
          {work.late > 0 && (
            <b className="is-brass">{sayMany(" · {count} minute behind its plan", " · {count} minutes behind its plan", work.late)}</b>
          )}
        </span>
      )}
    </div>
  );
}
