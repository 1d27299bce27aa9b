import { useQuery } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useEffect, useState } from "react";
import { api, Away, body, Refusal, type Schema } from "../../api/client";
import { say, sayMany } from "../../shared/say";
import { ago, clock } from "../../shared/time";
import { MACHINE_WORDS, MachineMark } from "./MachineState";
import { Refused } from "../../shared/Refused";
import "./wall.css";

type Wall = Schema["Wall"];

/** Where this browser keeps the key of its wall. */
const KEPT = "incudo-wall";
/** How often it asks, and how long one page of a long list stays, in milliseconds. */
const AGAIN = 4_000;
const PAGE = 12_000;
/** So much fits onto a wall of 1920x1080. */
const MACHINES = 8;
const WAITING = 7;

/** The key from the address, which then forgets it; else the one that this browser has. */
function keyHere(): string {
  const given = location.hash.slice(1);
  if (!given) return localStorage.getItem(KEPT) ?? "";
  localStorage.setItem(KEPT, given);
  history.replaceState(null, "", "/wall");
  return given;
}

/** The shop on a wall: who is where, what runs, who waits. Nothing can be done here. */
export default function WallPage() {
  const [key, setKey] = useState(keyHere);
  const { data, error } = useQuery({
    queryKey: ["wall", key],
    queryFn: () => body(api.GET("/api/wall", { headers: { Authorization: `Bearer ${key}` } })),
    refetchInterval: AGAIN,
    enabled: key !== "",
    retry: (n, failed) => !(failed instanceof Refusal) && n < 2,
  });
  useEffect(() => {
    document.title = say("Wall");
  }, []);
  const refused = error instanceof Refusal;
  if (!key || refused) {
    return (
      <AskKey
        error={refused ? error.message : ""}
        onKey={(k) => {
          localStorage.setItem(KEPT, k);
          setKey(k);
        }}
      />
    );
  }
  if (!data) return <main className="wall">{error ? say("The shop's server cannot be reached.") : ""}</main>;
  return <Shown wall={data} away={error instanceof Away} />;
}

function AskKey({ error, onKey }: { error: string; onKey: (key: string) => void }) {
  const [typed, setTyped] = useState("");
  return (
    <main className="page stack wall-key">
      <h1>{say("This is a wall")}</h1>
      <p>{say("It shows the shop to everybody in it and changes nothing. An instructor adds a wall under Shop, Devices, and gets its key.")}</p>
      <form
        className="row"
        onSubmit={(e) => {
          e.preventDefault();
          onKey(typed.replace(/\s/g, "").toLowerCase());
        }}
      >
        <Input
          aria-label={say("Key of this wall")}
          autoFocus
          autoComplete="off"
          maxLength={60}
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
        <Button type="primary" htmlType="submit" disabled={!typed.trim()}>
          {say("Show the shop")}
        </Button>
      </form>
      <Refused words={error} />
    </main>
  );
}

/** Which page of a long list is shown now. */
function usePage(pages: number): number {
  const [at, setAt] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => setAt((n) => n + 1), PAGE);
    return () => clearInterval(timer);
  }, []);
  return pages > 1 ? at % pages : 0;
}

/** What is shown: machines that somebody is at on pages of eight, who waits, the others in one line. */
export function Shown({ wall, away }: { wall: Wall; away: boolean }) {
  const now = new Date(wall.as_of);
  const used = wall.machines.filter((m) => m.people.length > 0 || m.state === "alarm" || m.state === "runs");
  const rest = wall.machines.filter((m) => !used.includes(m));
  const pages = Math.max(1, Math.ceil(used.length / MACHINES));
  const page = usePage(pages);
  return (
    <main className={`wall ${wall.stopped ? "wall-stopped" : ""}`}>
      <header>
        <h1>{wall.session ? wall.session.group : wall.shop}</h1>
        <p>
          {away
            ? say("The shop's server cannot be reached: this is how it was at {clock}.", { clock: clock(wall.as_of) })
            : wall.session
              ? say("{here} of {expected} here", { here: wall.session.here, expected: wall.session.expected })
              : say("No session is open: no machine may be started.")}
          {wall.session && wall.session.supervisors.length > 0 && (
            <>
              {" · "}
              {sayMany("{names} supervises", "{names} supervise", wall.session.supervisors.length, {
                names: wall.session.supervisors.join(say(" and ")),
              })}
            </>
          )}
        </p>
        <b className="wall-clock">{clock(wall.as_of)}</b>
      </header>
      {wall.stopped && <p className="wall-stop">{say("All machines are stopped. Hands off, listen to the instructor.")}</p>}
      <section className="wall-machines" aria-label={say("Machines")}>
        {used.slice(page * MACHINES, (page + 1) * MACHINES).map((m) => (
          <article key={m.name} className={`wall-machine machine-${m.state}`}>
            <p className="wall-who">{m.people.length ? m.people.join(", ") : say("nobody at the machine")}</p>
            <p className="wall-where">
              <MachineMark state={m.state} size={34} /> <b>{m.name}</b>{" "}
              {m.state === "alarm" ? say("instructor, please") : m.operation || MACHINE_WORDS[m.state]}
              {m.since && <span className="muted"> {ago(m.since, now).join(" ")}</span>}
            </p>
          </article>
        ))}
        {used.length === 0 && <p className="wall-who muted">{say("Nobody is at a machine.")}</p>}
      </section>
      <section className="wall-line">
        <h2>{sayMany("{count} waits", "{count} wait", wall.line.length)}</h2>
        {wall.line.slice(0, WAITING).map((x, i) => (
          <div key={i}>
            <p className="wall-who">{x.student}</p>
            <p className="wall-what">
              {x.machine ? say("{what}, at {machine}", { what: x.what, machine: x.machine }) : x.what}
              <span className="muted"> {ago(x.since, now).join(" ")}</span>
            </p>
          </div>
        ))}
        {wall.line.length > WAITING && <p className="wall-what">{say("and {count} more", { count: wall.line.length - WAITING })}</p>}
      </section>
      <footer>
        <Rest words={say("Free")} machines={rest.filter((m) => m.state === "free" || m.state === "in-use")} />
        <Rest words={say("Not open")} machines={rest.filter((m) => m.state === "not-open")} />
        <Rest words={say("Closed")} machines={rest.filter((m) => m.state === "closed")} />
        {pages > 1 && <span>{say("page {page} of {pages}", { page: page + 1, pages })}</span>}
      </footer>
    </main>
  );
}

function Rest({ words, machines }: { words: string; machines: Wall["machines"] }) {
  if (machines.length === 0) return null;
  return (
    <span>
      <b>{words}</b> {machines.map((m) => m.name).join(", ")}
    </span>
  );
}
