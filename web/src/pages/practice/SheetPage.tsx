import { sure } from "../../shared/sure";
import { Waiting } from "../../shared/Loading";
import { Button } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import { Mark } from "./RigsPage";
import { when } from "../../shared/time";
import { Slips } from "./ExercisesPage";
import { Question, type Answer } from "./Question";
import "./rigs.css";
import "./exercises.css";
import { Lines } from "../../shared/Lines";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Sheet = Schema["SheetView"];

/** A sheet: a student answers it number by number; who teaches sees everybody's marks and the slips behind them. */
export default function SheetPage() {
  const { sheet = "" } = useParams();
  const me = useMe();
  const { data, error } = useQuery(queries.sheet(sheet));
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  const student = me.role === "student";
  return (
    <main className="page stack">
      <div className="between">
        <div>
          <h1>{data.title}</h1>
          <p className="muted">
            {say("{group}, set {at}.", { group: data.group, at: when(data.at) })} {data.words && <span className="said">“{data.words}”</span>}
          </p>
        </div>
        <span className="row exercise-print">
          {(["A4", "Letter"] as const).map((paper) => (
            <a key={paper} className="button" href={`/api/exercise-sheets/${data.id}/sheet.pdf?paper=${paper}`} target="_blank" rel="noreferrer">
              {say("Print{value}, {paper}", { value: student ? "" : say(" with key"), paper })}
            </a>
          ))}
        </span>
      </div>
      {data.in_class && !data.ended && <InClass sheet={data} mayEnd={me.role === "instructor"} />}
      {student ? <Mine sheet={data} /> : <Everybody sheet={data} />}
    </main>
  );
}

/** A sheet in class that is open: what that means, and for the instructor its end. */
function InClass({ sheet, mayEnd }: { sheet: Sheet; mayEnd: boolean }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const end = () =>
    act(async () => {
      const done = await body(api.POST("/api/exercise-sheets/{sheet}/end", { params: { path: { sheet: sheet.id } } }));
      client.setQueryData(queries.sheet(sheet.id).queryKey, done);
      void client.invalidateQueries({ queryKey: ["exercises"] });
    });
  return (
    <section className="card pad between" role="status" aria-label={say("In class")}>
      <p>
        <Rich text={"<b>In class.</b> The reckoner is closed to this group. Nobody sees a result until the sheet is ended."} with={{ b: <b /> }} />
      </p>
      {mayEnd && (
        <Button type="primary" disabled={busy} onClick={() => void end()}>
          {say("End the sheet")}
        </Button>
      )}
      <Refused words={error} />
    </section>
  );
}

function Mine({ sheet }: { sheet: Sheet }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const open = sheet.questions.findIndex((q) => !q.answered && !q.kept);
  const [at, setAt] = useState(open < 0 ? 0 : open);
  const q = sure(sheet.questions[at]);
  const right = sheet.questions.filter((x) => x.answered?.right).length;
  const answer = (a: Answer) =>
    act(async () => {
      const done = await body(
        api.POST("/api/exercise-sheets/{sheet}/answers", {
          params: { path: { sheet: sheet.id } },
          body: { id: newId(), number: at + 1, ...a },
        }),
      );
      client.setQueryData(queries.sheet(sheet.id).queryKey, done);
      void client.invalidateQueries({ queryKey: ["exercises"] });
    });
  return (
    <div className="exercise">
      <div className="exercise-numbers" role="tablist" aria-label={say("Numbers")}>
        {sheet.questions.map((x, i) => (
          <button key={i} role="tab" aria-selected={i === at} className={i === at ? "on" : ""} onClick={() => setAt(i)}>
            {i + 1} {x.answered && <Mark good={x.answered.right} />}
            {x.kept && <span title={say("answered")}>●</span>}
          </button>
        ))}
        {open < 0 && (
          <b>
            {sheet.questions.some((x) => x.kept)
              ? say("All answered: your instructor ends the sheet")
              : say("{right} of {count} right", { right, count: sheet.questions.length })}
          </b>
        )}
      </div>
      <section className="card pad">
        <Question key={at} of={q} busy={busy} error={error} focus onAnswer={(a) => void answer(a)} />
        {(q.answered ?? q.kept) && at < sheet.questions.length - 1 && (
          <Button type="primary" size="large" className="exercise-after" onClick={() => setAt(at + 1)}>
            {say("Next question")}
          </Button>
        )}
      </section>
    </div>
  );
}

function Everybody({ sheet }: { sheet: Sheet }) {
  const [at, setAt] = useState(0);
  const q = sure(sheet.questions[at]);
  return (
    <>
      <section className="card exercise-table">
        <Lines
          rows={sheet.rows}
          rowKey={(r) => r.student.id}
          columns={[
            {
              key: "student",
              title: say("Student"),
              render: (_, r) => r.student.name,
              sorter: (a, b) => a.student.name.localeCompare(b.student.name),
            },
            ...sheet.questions.map((x, i) => ({
              key: String(i),
              title: (
                <Button type="text" className={`plain ${i === at ? "on" : ""}`} title={x.words} onClick={() => setAt(i)}>
                  {i + 1}
                </Button>
              ),
              render: (_: unknown, r: Sheet["rows"][number]) => <MarkCell mark={r.marks[i]} />,
            })),
            {
              key: "right",
              title: say("Right"),
              className: "num",
              sorter: (a, b) => a.right - b.right,
              render: (_, r) =>
                r.marks.some((m) => m.answered) ? (
                  say("{right} of {count}", { right: r.right, count: sheet.questions.length })
                ) : (
                  <span className="muted">{say("not begun")}</span>
                ),
            },
          ]}
        />
      </section>
      <div className="exercise-two">
        <section className="card pad stack">
          <h2>
            {at + 1}. {q.words}
          </h2>
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
          {sheet.rows
            .filter((r) => r.marks[at]?.answered && !r.marks[at].right)
            .map((r) => (
              <p key={r.student.id} className="small">
                <Mark good={false} /> <b>{r.student.name}</b>: {sure(r.marks[at]).answer || say("working shown")}
                {sure(r.marks[at]).slip && <>, {sure(r.marks[at]).slip}</>}
              </p>
            ))}
        </section>
        <Slips slips={sheet.slips} title={say("What went wrong on this sheet")} />
      </div>
    </>
  );
}

function MarkCell({ mark: m }: { mark: Sheet["rows"][number]["marks"][number] | undefined }) {
  if (!m?.answered)
    return (
      <span className="muted" title={say("not yet")}>
        ·
      </span>
    );
  return (
    <span className="exercise-mark" title={`${m.answer || say("not answered, working shown")}${m.slip && `: ${m.slip}`}`}>
      <Mark good={m.right} />
      <span className="sr">{m.right ? "right" : m.slip || "wrong"}</span>
    </span>
  );
}
