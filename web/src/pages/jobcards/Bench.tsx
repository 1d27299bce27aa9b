import { weekday } from "../../shared/time";
import { Waiting } from "../../shared/Loading";
import { Button } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Scale, STATIONS } from "../../instruments/StationRule";
import { useQueue } from "../../offline/useQueue";
import { useMe } from "../../shared/me";
import { DecisionBox } from "./stations";
import { useAct } from "../../shared/useAct";
import { Steps } from "../skills/Steps";
import "./jobcard.css";
import "./bench.css";
import { Rich, say } from "../../shared/say";

type BenchCard = Schema["BenchCard"];

const keyOf = (s: { skill: string; machine?: { id: string } | null }) => `${s.skill}@${s.machine?.id ?? ""}`;

/** The student's home: one next thing large, then the cards, what is in reach, what was said last. */
export default function Bench() {
  const me = useMe();
  const { entries } = useQueue(me.id);
  const { data, error } = useQuery(queries.bench());
  const [all, setAll] = useState(false);
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  const { first } = data;
  const doing = new Set(data.steps.map(keyOf));
  const reach = data.reach.filter((s) => !doing.has(keyOf(s)));
  return (
    <main className="page bench">
      {entries.length > 0 && (
        <p className="caution">
          <Rich
            text={"<b>{count} of your entries wait in this browser.</b> They are sent automatically when the server is back."}
            values={{ count: entries.length }}
            with={{ b: <b /> }}
          />
        </p>
      )}
      {data.withdrawn.map((w) => (
        <p key={w.skill} className="error">
          <Rich
            text={"<b>{name}</b>: {reason}. Talk to an instructor: only an instructor reinstates it."}
            values={{ name: w.name, reason: w.reason }}
            with={{ b: <b /> }}
          />
        </p>
      ))}
      {first ? <Next card={first} missing={data.missing.length > 0} /> : <Nothing />}
      <AtMachines bench={data} />
      {data.steps.length > 0 && (
        <section className="stack">
          <h2>{say("What you can do about it now")}</h2>
          <div className="card">
            <Steps steps={data.steps} own />
          </div>
        </section>
      )}
      <div className="bench-columns">
        <section className="stack">
          <h2>{say("Job cards")}</h2>
          {data.cards.length === 0 && <p className="muted">{say("The parts your instructor assigns to you will appear here.")}</p>}
          {data.cards.map((c) => (
            <Link key={c.assignment} to={`/job/${c.assignment}`} className="card pad bench-card">
              <img src={`/api/versions/${c.version}/outline.svg`} alt="" width="96" height="56" />
              <span className="grow">
                <span className="between">
                  <b className="head">{c.name}</b>
                  <span className="small muted">{c.done ? say("accepted") : c.machine}</span>
                </span>
                <Scale pointer={c.pointer} ticks={42} />
                <span className="small muted">{c.next_thing}</span>
              </span>
            </Link>
          ))}
        </section>
        <section className="stack">
          <h2>{say("Skills just in reach")}</h2>
          <div className="card">
            <Steps steps={reach.slice(0, all ? undefined : SOME)} own />
            {reach.length === 0 && <p className="pad muted">{say("Nothing new is open yet: finish what is on your bench.")}</p>}
          </div>
          {reach.length > SOME && !all && <Button onClick={() => setAll(true)}>{say("{count} more", { count: reach.length - SOME })}</Button>}
          <Link to="/ladder">{say("See them all on the ladder")}</Link>
          {data.said && (
            <>
              <h2>{say("What your instructor said last")}</h2>
              <Link to={`/job/${data.said.assignment}`} className="card pad bench-said">
                <span className="small muted">{data.said.name}</span>
                <DecisionBox decision={data.said.decision} />
              </Link>
            </>
          )}
        </section>
      </div>
    </main>
  );
}

const SOME = 6;

/** The session that is open: at which machine they stand, or which they can go to; and a call for help. */
function AtMachines({ bench }: { bench: Schema["Bench"] }) {
  const client = useQueryClient();
  const { data: calls } = useQuery(queries.calls());
  const { act, error, busy } = useAct();
  if (!bench.session) return <p className="muted">{say("No session is open now: you can read, take checks and plan.")}</p>;
  const open = calls?.calls.find((c) => c.kind === "help" && !c.outcome);
  const help = () =>
    act(async () => {
      const asked = open
        ? api.POST("/api/calls/{call}/end", {
            params: { path: { call: open.id } },
            body: { outcome: "cancelled", words: "" },
          })
        : api.POST("/api/calls", {
            body: {
              id: newId(),
              kind: "help",
              what: "",
              machine: bench.machine?.id ?? null,
              assignment: bench.first?.assignment ?? null,
              words: "",
            },
          });
      client.setQueryData(queries.calls().queryKey, await body(asked));
    });
  return (
    <section className="card pad row bench-session">
      <span className="grow">
        <b className="head">{say("{session} meets now.", { session: bench.session })}</b>{" "}
        {!bench.here ? (
          <span className="needs">{say("You are not on the roll yet: tell the instructor.")}</span>
        ) : bench.machine ? (
          say("You stand at {name}.", { name: bench.machine.name })
        ) : (
          say("Go to a machine:")
        )}
        {error && <span className="error">{error}</span>}
      </span>
      {bench.machine ? (
        <Link className="button first" to={`/start/${bench.machine.id}`}>
          {say("I am about to start")}
        </Link>
      ) : (
        bench.here &&
        bench.machines.map((m) => (
          <Link key={m.id} className="button" to={`/start/${m.id}`}>
            {m.name}
          </Link>
        ))
      )}
      {bench.here && (
        <Button disabled={busy} onClick={() => void help()}>
          {open ? say("Help is called: cancel") : say("Call for help")}
        </Button>
      )}
    </section>
  );
}

function Next({ card, missing }: { card: BenchCard; missing: boolean }) {
  const station = STATIONS.find((s) => s.id === card.now)?.name;
  return (
    <section className="bench-next">
      <div className="grow">
        <p className="small">
          {say("Next · {name}{machine}", { name: card.name, machine: card.machine && say(" on {machine}", { machine: card.machine }) })}
          {card.due && say(" · due {weekday}", { weekday: weekday(card.due) })}
        </p>
        <h1>{card.next_thing}</h1>
      </div>
      <Link className="button big" to={`/job/${card.assignment}`}>
        {card.waiting || missing ? say("Open the job card") : say("Go on: {station}", { station })}
      </Link>
    </section>
  );
}

function Nothing() {
  return (
    <section className="bench-next">
      <div className="grow">
        <p className="small">{say("Next")}</p>
        <h1>{say("Nothing is on your bench. Ask your instructor for the next part.")}</h1>
      </div>
      <Link className="button big" to="/parts">
        {say("Look at the parts")}
      </Link>
    </section>
  );
}
