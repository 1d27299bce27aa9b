import { sure } from "../../shared/sure";
import { Button } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { Link } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { useMe } from "../../shared/me";
import { ago } from "../../shared/time";
import { useAct } from "../../shared/useAct";
import { PinDialog } from "../../shared/PinDialog";
import { say } from "../../shared/say";

type Waiting = Schema["Waiting"];

/** Who waits for an assessor, longest first, each with the one touch that answers it. */
export function Line({ line, now }: { line: readonly Waiting[]; now: Date }) {
  return (
    <ol className="card line" aria-label={say("Who waits")}>
      {line.map((w, i) => (
        <Fragment key={w.call ?? (w.hand_in ?? w.student.id) + w.kind + w.detail}>
          {(i === 0 || (sure(line[i - 1]).call !== null && w.call === null)) && (
            <li className="line-part small">{w.call ? say("Calls from the shop") : say("Parts and skills")}</li>
          )}
          <Item waiting={w} now={now} />
        </Fragment>
      ))}
      {line.length === 0 && (
        <li className="pad muted">
          {say(
            "Calls from the machines, parts that are handed in and skills that are ready to be signed will appear here with how long they have waited.",
          )}
        </li>
      )}
    </ol>
  );
}

function Item({ waiting: w, now }: { waiting: Waiting; now: Date }) {
  const me = useMe();
  const [amount, unit] = ago(w.since, now);
  const assesses = me.role === "instructor" || me.role === "assistant";
  return (
    <li data-kind={w.kind}>
      <span className="line-time">
        <b>{amount}</b> {unit}
      </span>
      <span className="grow">
        <b className="line-who">{w.student.name}</b>
        <span>{w.what}</span>
        <span className="small muted">{w.detail}</span>
      </span>
      {assesses ? <Touch waiting={w} /> : null}
    </li>
  );
}

/** The one touch that answers: to the check, to the checklist, beside the student, released. */
function Touch({ waiting: w }: { waiting: Waiting }) {
  const me = useMe();
  switch (w.kind) {
    case "check":
      return (
        <Link className="button first big" to={`/check/${w.hand_in}`}>
          {say("Check part")}
        </Link>
      );
    case "plan":
      return (
        <Link className="button first big" to={`/job/${w.assignment}/plan`}>
          {say("See the plan")}
        </Link>
      );
    case "sign":
      return (
        <Link className="button big" to={`/skills/${w.student.id}?skill=${w.skill}`}>
          {say("See it")}
        </Link>
      );
    case "show":
      return (
        <Link className="button first big" to={`/assess/${w.student.id}?skill=${w.skill}${w.machine ? `&machine=${w.machine.id}` : ""}`}>
          {say("Checklist")}
        </Link>
      );
    case "start":
      return <Beside waiting={w} />;
    case "hold":
      return me.role === "instructor" ? (
        <Answer waiting={w} words={say("Release")} />
      ) : (
        <span className="small muted">{say("an instructor releases it")}</span>
      );
    default:
      return <Answer waiting={w} words={say("I have been there")} />;
  }
}

function Answer({ waiting: w, words }: { waiting: Waiting; words: string }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const done = () =>
    act(async () => {
      await body(
        api.POST("/api/calls/{call}/end", {
          params: { path: { call: sure(w.call) } },
          body: { outcome: "done", words: "" },
        }),
      );
      await client.invalidateQueries();
    });
  return (
    <span className="stack">
      <Button type="primary" size="large" disabled={busy} onClick={() => void done()}>
        {words}
      </Button>
      {error && <span className="error small">{error}</span>}
    </span>
  );
}

/** "I stand beside them": for this operation, for the shop's minutes. */
function Beside({ waiting: w }: { waiting: Waiting }) {
  const client = useQueryClient();
  const [asking, setAsking] = useState(false);
  const [id] = useState(newId);
  const confirm = async (pin: string) => {
    await body(
      api.POST("/api/machines/{machine}/confirmations", {
        params: { path: { machine: sure(w.machine).id } },
        body: { id, student: w.student.id, operation: w.skill, pin },
      }),
    );
    await client.invalidateQueries();
  };
  return (
    <>
      <Button type="primary" size="large" onClick={() => setAsking(true)}>
        {say("I am beside them")}
      </Button>
      {asking && (
        <PinDialog
          title={say("Beside {name}", { name: w.student.name })}
          act={say("I am beside them")}
          onClose={() => setAsking(false)}
          onAct={confirm}
        >
          <p>
            {say("{detail}. For this operation only; it ends by itself. You stay within reach of the stop as long as it runs.", { detail: w.detail })}
          </p>
        </PinDialog>
      )}
    </>
  );
}
