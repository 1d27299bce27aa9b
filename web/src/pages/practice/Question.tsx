import type { InputRef } from "antd";
import { Button, Input, Select } from "antd";
import { useEffect, useRef, useState } from "react";
import type { Schema } from "../../api/client";
import { Working } from "../../instruments/Working";
import { Mark } from "./RigsPage";
import { Lines } from "../../shared/Lines";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type QuestionView = Schema["ExerciseQuestionView"];
export type Answer = { answer: string; unit: string; give_up: boolean };

/** A question: what is given, the one answer, and after it whether it was right, which slip it was, the working. */
export function Question({
  of: q,
  busy,
  error,
  focus,
  onAnswer,
}: {
  of: QuestionView;
  busy: boolean;
  error: string;
  focus: boolean;
  onAnswer: (answer: Answer) => void;
}) {
  const [text, setText] = useState("");
  const [unit, setUnit] = useState(q.unit);
  const field = useRef<InputRef>(null);
  useEffect(() => {
    if (focus) field.current?.focus();
  }, [focus, q.id]);
  const a = q.answered;
  const open = !a && !q.kept;
  const send = (answer: string) => onAnswer({ answer, unit: q.choices.length > 0 ? "" : unit, give_up: false });
  return (
    <div className="stack">
      <h2>{q.words}</h2>
      <Lines
        className="exercise-given"
        rows={q.given}
        rowKey={(g) => g.label}
        showHeader={false}
        columns={[
          { key: "0", title: "", render: (_, g) => g.label },
          { key: "1", title: "", className: "num", render: (_, g) => g.value },
        ]}
      />
      {open && q.choices.length > 0 && (
        <div className="row exercise-choices">
          {q.choices.map((c, i) => (
            <Button key={c} size="large" disabled={busy} onClick={() => send(c)}>
              {q.choice_words[i]}
            </Button>
          ))}
        </div>
      )}
      {open && q.choices.length === 0 && (
        <form
          className="exercise-answer"
          onSubmit={(e) => {
            e.preventDefault();
            if (text.trim()) send(text);
          }}
        >
          <label className="asked grow">
            {say("Your answer{near}", { near: q.near && `, ${q.near}` })}
            <Input
              ref={field}
              size="large"
              inputMode="decimal"
              autoComplete="off"
              value={text}
              maxLength={40}
              onChange={(e) => setText(e.target.value)}
            />
          </label>
          {q.units.length > 1 ? (
            <label className="asked">
              {say("in")}
              <Select
                showSearch={{ optionFilterProp: "label" }}
                size="large"
                value={unit}
                onChange={(picked) => setUnit(picked)}
                options={[...q.units.map((u) => ({ value: u, label: u }))]}
              />
            </label>
          ) : (
            q.unit && <span className="exercise-unit">{q.unit}</span>
          )}
          <Button type="primary" size="large" htmlType="submit" disabled={busy || !text.trim()}>
            {say("Answer")}
          </Button>
        </form>
      )}
      {open && (
        <Button disabled={busy} onClick={() => onAnswer({ answer: "", unit: "", give_up: true })}>
          {say("Show me the working instead")}
        </Button>
      )}
      <Refused words={error} />
      {q.kept && (
        <p className="muted" role="status">
          {say("Your answer is saved. The result is shown when the sheet is ended.")}
        </p>
      )}
      {a && (
        <div className={`exercise-said ${a.right ? "good" : "bad"}`} role="status">
          <p className="exercise-verdict">
            <Mark good={a.right} />
            {a.right ? say("Right") : a.answer ? say("Not right: you said {answer} {unit}", { answer: a.answer, unit: a.unit }) : say("Not answered")}
            {!a.right && <b>{say("It is {correct}", { correct: a.correct })}</b>}
          </p>
          {a.slip && (
            <p>
              <Rich text={"That is what comes out when <b>{slip}</b>."} values={{ slip: a.slip }} with={{ b: <b /> }} />
            </p>
          )}
          {!a.right && !a.slip && a.answer && <p>{say("No usual slip leads to that: go through the working line by line.")}</p>}
          <h3>{a.slip ? say("The working, from where it went wrong") : say("The working")}</h3>
          <Working steps={a.working} />
        </div>
      )}
    </div>
  );
}
