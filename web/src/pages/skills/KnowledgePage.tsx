import { sure } from "../../shared/sure";
import { clock } from "../../shared/time";
import { Button } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Loading } from "../../shared/Loading";
import { useAct } from "../../shared/useAct";
import { Asked, NONE, type Given } from "./Asked";
import "./knowledge.css";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type View = Schema["CheckView"];

/** A knowledge check: one question at a time, each answer with its reason. */
export default function KnowledgePage() {
  const { bank = "" } = useParams();
  const { data, error } = useQuery(queries.check_state(bank));
  if (!data) return <Loading error={error} />;
  return <Check key={bank} bank={bank} view={data} />;
}

function Check({ bank, view }: { bank: string; view: View }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [id] = useState(newId);
  const [given, setGiven] = useState<Given>(NONE);
  const [last, setLast] = useState<{ question: Schema["QuestionView"]; answer: Schema["AnswerView"] } | null>(null);
  const [next, setNext] = useState<View | null>(null);
  const keep = (fresh: View) => {
    client.setQueryData(queries.check_state(bank).queryKey, fresh);
    if (!fresh.running) void client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "knowledge" });
  };
  const begin = () =>
    act(async () => {
      setLast(null);
      keep(await body(api.POST("/api/checks/{bank}/tries", { params: { path: { bank } }, body: { id } })));
    });
  const answer = (question: Schema["QuestionView"]) =>
    act(async () => {
      const fresh = await body(
        api.POST("/api/checks/{bank}/answers", {
          params: { path: { bank } },
          body: { check: sure(view.running), question: question.id, places: [...given.places], number: given.number },
        }),
      );
      setLast(fresh.last ? { question, answer: fresh.last } : null);
      setGiven(NONE);
      setNext(fresh);
    });
  const goOn = () => {
    if (next) keep(next);
    setNext(null);
    setLast(null);
  };

  const question = view.question;
  const number = (next ? next.number - (next.running ? 1 : 0) : view.number) + 1;
  return (
    <main className="page knowledge">
      <div className="between">
        <h1>{view.name}</h1>
        {view.running && <p className="muted">{say("{min} of {asked}", { min: Math.min(number, view.asked), asked: view.asked })}</p>}
      </div>
      {view.running && <Progress at={number - 1} of={view.asked} />}
      <Refused words={error} />
      {last && next ? (
        <section className="card pad stack">
          <Asked question={last.question} given={{ places: last.answer.chosen, number: "" }} right={last.answer.places} onGive={() => undefined} />
          <Why answer={last.answer} />
          <Button type="primary" size="large" autoFocus onClick={goOn}>
            {next.running ? say("Next question") : say("How it went")}
          </Button>
        </section>
      ) : view.running && question ? (
        <form
          className="card pad stack"
          onSubmit={(e) => {
            e.preventDefault();
            void answer(question);
          }}
        >
          <Asked key={question.id} question={question} given={given} right={null} onGive={setGiven} />
          <Button type="primary" size="large" htmlType="submit" disabled={busy || (given.places.length === 0 && !given.number)}>
            {say("Submit my answer")}
          </Button>
        </form>
      ) : (
        <Begin view={view} busy={busy} onBegin={() => void begin()} />
      )}
    </main>
  );
}

function Progress({ at, of }: { at: number; of: number }) {
  return (
    <div className="progress" role="img" aria-label={say("{at} of {of} answered", { at, of })}>
      {Array.from({ length: of }, (_, i) => (
        <i key={i} className={i < at ? "done" : i === at ? "now" : ""} />
      ))}
    </div>
  );
}

function Why({ answer: a }: { answer: Schema["AnswerView"] }) {
  return (
    <div className={`answer-why ${a.right ? "right" : "wrong"}`} role="status">
      <b className="head">{a.right ? say("Right.") : say("No. Right is: {words}.", { words: a.words })}</b>
      <p>{a.why}</p>
      <p>
        <span className="muted">{say("Otherwise: ")}</span>
        {a.otherwise}
      </p>
    </div>
  );
}

function Begin({ view, busy, onBegin }: { view: View; busy: boolean; onBegin: () => void }) {
  const wait = view.may_begin_at;
  return (
    <section className="card pad stack">
      {view.result && (
        <div className={`answer-why ${view.result.passed ? "right" : "wrong"}`}>
          <b className="head">{view.result.passed ? say("Passed") : say("Not passed")}</b>
          <p>{view.result.words}.</p>
        </div>
      )}
      {view.passed ? (
        <>
          <p>{say("This check is passed. It counts for: {listed}.", { listed: view.skills.join(", ") })}</p>
          <Link className="button big first" to="/bench">
            {say("Back to the Bench")}
          </Link>
        </>
      ) : (
        <>
          <p>
            {say(
              "{asked} questions, drawn for you. {pass_percent} % must be right, and every critical one. After each answer you read why, and what happens otherwise. It counts for: {listed}.",
              { asked: view.asked, pass_percent: view.pass_percent, listed: view.skills.join(", ") },
            )}
          </p>
          {wait ? (
            <p className="caution">
              <Rich
                text={"<b>The next try opens at {wait}.</b> The wait grows with each try: read the reasons, look at the machine, ask."}
                values={{ wait: clock(wait) }}
                with={{ b: <b /> }}
              />
            </p>
          ) : (
            <Button type="primary" size="large" disabled={busy} onClick={onBegin}>
              {view.tries === 0 ? say("Begin") : say("Try again")}
            </Button>
          )}
        </>
      )}
    </section>
  );
}
