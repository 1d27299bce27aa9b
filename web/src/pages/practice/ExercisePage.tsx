import { Waiting } from "../../shared/Loading";
import { Button } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, body, newId } from "../../api/client";
import { queries } from "../../api/queries";
import { useAct } from "../../shared/useAct";
import { Row } from "./ExercisesPage";
import { Question, type Answer } from "./Question";
import "./rigs.css";
import "./exercises.css";
import { Rich, say } from "../../shared/say";

/** Exercises of one calculation, one question after the other. */
export default function ExercisePage() {
  const { calculation = "" } = useParams();
  return <Practice key={calculation} calculation={calculation} />;
}

function Practice({ calculation }: { calculation: string }) {
  const client = useQueryClient();
  const [id, setId] = useState(newId);
  const asked = useQuery({
    queryKey: ["exercise-question", id],
    queryFn: () => body(api.POST("/api/exercise-questions", { body: { id, calculation } })),
    staleTime: Infinity,
    retry: false,
  });
  const cards = useQuery(queries.exercises());
  const { act, error, busy } = useAct();
  const q = asked.data;
  const card = cards.data?.cards.find((c) => c.calculation === calculation);
  if (!q) return <main className="page">{asked.error ? <p className="error">{asked.error.message}</p> : <Waiting />}</main>;
  const answer = (a: Answer) =>
    act(async () => {
      const done = await body(api.POST("/api/exercise-questions/{question}/answer", { params: { path: { question: q.id } }, body: a }));
      client.setQueryData(["exercise-question", id], done);
      void client.invalidateQueries({ queryKey: ["exercises"] });
    });
  const wanted = card?.wanted ?? 0;
  return (
    <main className="page exercise">
      <div className="between">
        <h1>{q.name}</h1>
        <span className="row">
          {wanted > 0 && <Row done={q.in_a_row} wanted={wanted} />}
          <span>
            <Rich text={"<b>{in_a_row}</b> right in a row"} values={{ in_a_row: q.in_a_row }} with={{ b: <b /> }} />
          </span>
        </span>
      </div>
      {wanted > 0 && (
        <p className="muted small">
          {q.in_a_row >= wanted
            ? say("Enough for {skill}.", { skill: card?.skill })
            : say("{wanted} in a row, without help, are evidence for {skill}. A question you leave comes back.", { wanted, skill: card?.skill })}
        </p>
      )}
      <section className="card pad">
        <Question key={q.id} of={q} busy={busy} error={error} focus onAnswer={(a) => void answer(a)} />
        {q.answered && (
          <div className="row exercise-after">
            <Button type="primary" size="large" autoFocus onClick={() => setId(newId())}>
              {say("Next question")}
            </Button>
            <Link className="button" to={`/reckon/${calculation}`}>
              {say("Open it in the reckoner")}
            </Link>
            <Link className="button" to="/exercises">
              {say("Enough")}
            </Link>
          </div>
        )}
      </section>
    </main>
  );
}
