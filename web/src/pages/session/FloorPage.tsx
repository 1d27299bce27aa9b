import { Button } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Scale, STATIONS } from "../../instruments/StationRule";
import { Loading } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { ago } from "../../shared/time";
import { useAct } from "../../shared/useAct";
import { PinDialog } from "../../shared/PinDialog";
import { Line } from "./Line";
import { Plan } from "./FloorPlan";
import "./floor.css";
import { Rich, say, sayMany } from "../../shared/say";

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
            <SessionWords session={data.session} /> {say("{running} of {count} spindles turn.", { running, count: data.plates.length })}
          </p>
          {me.role === "instructor" && !data.stopped && <StopAll />}
        </div>
        {data.stopped && <Stopped stopped={data.stopped} />}
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
  if (line.length === 0) return say("nobody waits for you");
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

const MACHINE_WORDS = {
  closed: say("closed"),
  alarm: say("alarm"),
  runs: say("running"),
  "may-start": say("may start"),
  "in-use": say("in use"),
  free: say("free"),
  "not-open": say("not open"),
};

function PlateBox({ plate, now }: { plate: Schema["Plate"]; now: Date }) {
  const state = plate.tagged_out
    ? "closed"
    : plate.alarm
      ? "alarm"
      : plate.spindle
        ? "runs"
        : plate.run
          ? "may-start"
          : plate.stands.length > 0
            ? "in-use"
            : plate.open
              ? "free"
              : "not-open";
  return (
    <article className={`card machine ${plate.alarm ? "machine-alarmed" : ""}`} data-machine={plate.machine.name}>
      <div className="between">
        <h2 className="machine-name">
          <Link to={`/start/${plate.machine.id}`}>{plate.machine.name}</Link>
        </h2>
        <span className={`machine-state machine-${state}`}>
          <svg width="18" height="18" viewBox="0 0 18 18" aria-hidden="true">
            {(state === "free" || state === "not-open") && (
              <circle cx="9" cy="9" r="7" fill="none" stroke="currentColor" strokeWidth="2" strokeDasharray={state === "free" ? "" : "3 3"} />
            )}
            {(state === "in-use" || state === "may-start") && (
              <path d="M9 2A7 7 0 1 1 8.9 2ZM9 5V9.5L12 11.5" fill="none" stroke="currentColor" strokeWidth="2" />
            )}
            {state === "runs" && (
              <path
                d="M3 9A6 6 0 0 1 14.5 6.5M15 9A6 6 0 0 1 3.5 11.5M14.5 2.5V6.5H10.5M3.5 15.5V11.5H7.5"
                fill="none"
                stroke="currentColor"
                strokeWidth="2"
              />
            )}
            {state === "alarm" && <path d="M9 1 17 16H1ZM9 6V11M9 13V14.5" fill="none" stroke="currentColor" strokeWidth="2" />}
            {state === "closed" && <path d="M3 3 15 15M15 3 3 15" fill="none" stroke="currentColor" strokeWidth="2.4" />}
          </svg>
          {MACHINE_WORDS[state]}
        </span>
      </div>
      {plate.tagged_out && <p className="error">{plate.tagged_out}</p>}
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
          {plate.run ? plate.run.reasons.join(" ") : say("The spindle turns and nobody was given a start.")}
        </p>
      )}
      {plate.at_work.map((a) => (
        <Work key={a.assignment} work={a} now={now} />
      ))}
      {plate.stands.length === 0 && plate.at_work.length === 0 && <p className="muted small">{plate.about}</p>}
      <div className="machine-foot small">
        <Cards words={say("Job cards here: ")} cards={plate.next_up.filter((n) => !n.missing)} />
        <Cards words={say("Not before signed: ")} cards={plate.next_up.filter((n) => n.missing)} />
        <p>
          <span className="muted">{say("May run unsupervised: ")}</span>
          {plate.may_alone.length ? plate.may_alone.map((n) => n.split(" ")[0]).join(", ") : say("nobody yet")}
        </p>
      </div>
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
        <span className="small">
          <b className="is-blue">{station}</b> {minutes} {unit}
        </span>
      </span>
      <Scale pointer={work.pointer} ticks={42} />
    </div>
  );
}
