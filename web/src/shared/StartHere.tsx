import { Button, Checkbox } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, body, newId, type Schema } from "../api/client";
import { queries } from "../api/queries";
import { Light } from "./Light";
import { useMe } from "./me";
import { Rich, say, sayMany } from "./say";
import { ago, clock } from "./time";
import { useAct } from "./useAct";
import { Refused } from "./Refused";
import "./start.css";

type Page = Schema["StartPage"];
type Option = Schema["StartOption"];

function useSteps(page: Page) {
  const client = useQueryClient();
  const run = useAct();
  const take = async (fresh: Page) => {
    client.setQueryData(queries.start(page.machine.id).queryKey, fresh);
    await client.invalidateQueries({ queryKey: ["bench"] });
  };
  const step = (what: Schema["Step"]) =>
    run.act(async () =>
      take(
        await body(
          api.POST("/api/machines/{machine}/steps", {
            params: { path: { machine: page.machine.id } },
            body: { id: newId(), step: what },
          }),
        ),
      ),
    );
  const end = () =>
    run.act(async () =>
      take(
        await body(
          api.POST("/api/machines/{machine}/ends", {
            params: { path: { machine: page.machine.id } },
            body: { id: newId() },
          }),
        ),
      ),
    );
  return { ...run, step, end, take };
}

export function Come({ page }: { page: Page }) {
  const { step, error, busy } = useSteps(page);
  return (
    <section className="card pad stack">
      <p>{say("You are not at this machine yet.")}</p>
      <Refused words={error} />
      <Button type="primary" size="large" disabled={busy || !page.session} onClick={() => void step("come")}>
        {say("I work at {name}", { name: page.machine.name })}
      </Button>
    </section>
  );
}

/** Before a start: the points, the operation with its answer, and the one large button. ``operation`` is chosen already
 * where a run card asks; ``onStarted`` is told when the start is enabled. */
export function Before({ page, operation = "", onStarted }: { page: Page; operation?: string; onStarted?: () => void }) {
  const me = useMe();
  const { act, step, take, error, busy } = useSteps(page);
  const [ticked, setTicked] = useState<readonly string[]>([]);
  const [picked, setPicked] = useState<string>(operation);
  const [all, setAll] = useState(false);
  const [answer, setAnswer] = useState<Schema["StartAnswer"] | null>(null);
  const [id, setId] = useState(newId);
  const mine = page.handles?.id === me.id;
  const onPart = page.options.filter((o) => o.on_part);
  const known = page.options.filter((o) => o.operation === operation);
  const needed = known.length > 0 ? known : onPart;
  const shown = all || needed.length === 0 ? page.options : needed;
  const option = page.options.find((o) => o.operation === picked) ?? shown[0];
  const card = page.cards.find((c) => option && c.operations.includes(option.operation));
  const open = page.points.filter((p) => !ticked.includes(p.id));

  const start = () =>
    act(async () => {
      if (!option) return;
      const found = await body(
        api.POST("/api/machines/{machine}/starts", {
          params: { path: { machine: page.machine.id } },
          body: { id, operation: option.operation, assignment: card?.assignment ?? null, points: [...ticked] },
        }),
      );
      setId(newId());
      setAnswer(found.started ? null : found);
      if (found.called || found.started) setTicked([]);
      await take(found.page);
      if (found.started) onStarted?.();
    });

  return (
    <div className="start-columns">
      <section className="card pad stack">
        <h2>{page.listed ? say("Three points before this start") : say("Before the first start here today")}</h2>
        <ul className="ticks">
          {page.points.map((p) => (
            <li key={p.id}>
              <Checkbox
                className={ticked.includes(p.id) ? "ticked" : ""}
                checked={ticked.includes(p.id)}
                onChange={(e) => setTicked(e.target.checked ? [...ticked, p.id] : ticked.filter((x) => x !== p.id))}
              >
                <span>
                  <b>{p.text}</b>
                  <span className="small muted">{p.why}</span>
                </span>
              </Checkbox>
            </li>
          ))}
        </ul>
      </section>
      <section className="stack">
        <div className="card pad stack">
          <h2>{say("What will you do?")}</h2>
          <div className="options" role="radiogroup" aria-label={say("Operation")}>
            {shown.map((o) => (
              <button key={o.operation} role="radio" aria-checked={o === option} className="option" onClick={() => setPicked(o.operation)}>
                <Light option={o} />
                <span className="grow">{o.name}</span>
              </button>
            ))}
          </div>
          {needed.length > 0 && <Button onClick={() => setAll(!all)}>{all ? say("Only what is needed now") : say("Something else")}</Button>}
          {card && <p className="small muted">{say("For {name}.", { name: card.name })}</p>}
        </div>
        {option && <Verdict option={option} answer={answer?.page ? answer : null} />}
        {option && option.answer !== "refused" && <Cautions cautions={option.cautions} />}
        <Refused words={error} />
        <Button
          type="primary"
          size="large"
          className="start-button"
          disabled={busy || open.length > 0 || !mine || !option}
          onClick={() => void start()}
        >
          {open.length > 0 ? sayMany("{count} point to go", "{count} points to go", open.length) : say("I am about to start")}
        </Button>
        <div className="row">
          {!mine && (
            <Button className="grow" disabled={busy} onClick={() => void step("handles")}>
              {say("I take the handles")}
            </Button>
          )}
          <Button className="grow" disabled={busy} onClick={() => void step("go")}>
            {say("I leave this machine")}
          </Button>
          <Link className="button grow" to={`/report?machine=${page.machine.id}`}>
            {say("Something is wrong")}
          </Link>
        </div>
      </section>
    </div>
  );
}

function Verdict({ option: o, answer }: { option: Option; answer: Schema["StartAnswer"] | null }) {
  if (o.answer === "allowed") {
    return (
      <p className="answer answer-allowed">
        <Rich text={"<b>You may do this alone.</b> Nobody is beside you, so stop when anything is unlike the last time."} with={{ b: <b /> }} />
      </p>
    );
  }
  if (o.answer === "refused") {
    return (
      <div className="answer answer-refused">
        <b>{say("Not now.")}</b>
        <ul className="points">
          {o.reasons.map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ul>
      </div>
    );
  }
  return (
    <div className="answer answer-with">
      {o.starts ? (
        <b>
          {say("{confirmed_by} is beside you until", { confirmed_by: o.confirmed_by })} {o.confirmed_until && clock(o.confirmed_until)}.
        </b>
      ) : (
        <b>{say("Only with an assessor beside you.")}</b>
      )}
      <p className="small">{o.reasons.join(" ")}</p>
      {!o.starts && o.called && (
        <p>{say("Called. Wait with your hands off the machine: {listed} comes and confirms here.", { listed: o.assessors.join(" or ") })}</p>
      )}
      {!o.starts && !o.called && (
        <p className="small">
          {say("When you press the button, these are called: {listed}.", { listed: o.assessors.join(", ") || say("nobody can") })}
        </p>
      )}
      {answer?.called && (
        <p className="sr" role="status">
          {say("The assessor is called.")}
        </p>
      )}
    </div>
  );
}

function Cautions({ cautions }: { cautions: readonly Schema["CautionView"][] }) {
  return cautions.map((c) => (
    <p key={c.happens} className="caution small">
      <b>{c.happens}</b> {c.do}
    </p>
  ));
}

export function Running({ page, run }: { page: Page; run: Schema["RunView"] }) {
  const me = useMe();
  const { end, error, busy } = useSteps(page);
  const [minutes, unit] = ago(run.since, new Date());
  const mayEnd = run.person.id === me.id || me.role === "instructor" || me.role === "assistant";
  return (
    <section className={`card pad stack running ${run.still_may ? "" : "alarm"}`}>
      <p className="head running-who">
        {run.person.name}: {run.operation}
      </p>
      <p>
        {say("Start enabled {minutes} {unit} ago.", { minutes, unit })}{" "}
        {run.beside && <>{say("{name} is beside the machine.", { name: run.beside })} </>}
        {page.spindle ? say("Spindle running.") : say("Spindle stopped.")}
      </p>
      {!run.still_may && (
        <div className="error" role="alert">
          <b>{say("Finish this cut safely, then stop. No new start is enabled.")}</b>
          <ul className="points">
            {run.reasons.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        </div>
      )}
      <Cautions cautions={run.cautions} />
      <Refused words={error} />
      {mayEnd && (
        <Button size="large" disabled={busy} onClick={() => void end()}>
          {say("Spindle stopped: end this run")}
        </Button>
      )}
      <Link className="button" to={`/report?machine=${page.machine.id}`}>
        {say("Something is wrong")}
      </Link>
    </section>
  );
}
