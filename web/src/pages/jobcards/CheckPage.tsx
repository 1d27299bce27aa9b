import { sure } from "../../shared/sure";
import { Waiting } from "../../shared/Loading";
import { Button } from "antd";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Plate } from "../../instruments/Drawing";
import { keep } from "../../offline/queue";
import { useQueue } from "../../offline/useQueue";
import { useMe } from "../../shared/me";
import { focusReading } from "./focus";
import { Asked, Entry, LastSaved, type Typed } from "./Entry";
import { when } from "../../shared/time";
import { Compare } from "./Compare";
import { Decide } from "./Decide";
import { SignPart } from "./SignPart";
import { Sheet } from "./Sheet";
import "./jobcard.css";
import "./check.css";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type CheckSheet = Schema["CheckSheet"];

/** The second person's check: measure blind, open the comparison, decide, sign. */
export default function CheckPage() {
  const { handIn = "" } = useParams();
  const asked = useQuery(queries.check(handIn));
  if (!asked.data) {
    return <main className="page">{asked.error ? <p className="error">{asked.error.message}</p> : <Waiting />}</main>;
  }
  return <Check sheet={asked.data} />;
}

function Check({ sheet }: { sheet: CheckSheet }) {
  const me = useMe();
  const client = useQueryClient();
  const { card } = sheet;
  const bothShown = sheet.opened || sheet.decided;
  const proposed =
    (bothShown
      ? (sheet.rows.find((r) => r.of_record && r.of_record !== "in") ?? sheet.rows.find((r) => r.mine.length > 0))
      : sheet.rows.find((r) => r.proposed && r.mine.length === 0)) ?? sure(sheet.rows[0]);
  const [picked, setPicked] = useState<number | null>(null);
  const [last, setLast] = useState<Schema["SavedReading"] | null>(null);
  const chosen = sure(card.characteristics.find((c) => c.number === (picked ?? proposed.number)));
  const row = sure(sheet.rows.find((r) => r.number === chosen.number));
  const measured = sheet.rows.filter((r) => r.mine.length > 0);
  const key = queries.check(sheet.hand_in).queryKey;
  const { entries, push } = useQueue(me.id, ({ entry, answer }) => {
    if (entry.kind !== "check-reading" || !answer) return;
    const saved = answer as Schema["SavedReading"];
    setLast(saved);
    // whoever has gone on meanwhile stays where they are
    setPicked((now) => (now === saved.characteristic ? null : now));
  });
  const mine = entries.filter((e) => e.attempt === card.attempt && e.kind === "check-reading");
  const queued = mine.filter((e) => e.kind === "check-reading" && e.body.characteristic === chosen.number);

  const [openId] = useState(newId);
  const opening = useMutation({
    mutationFn: () =>
      body(
        api.POST("/api/hand-ins/{hand_in}/comparison", {
          params: { path: { hand_in: sheet.hand_in } },
          body: { id: openId },
        }),
      ),
    onSuccess: (fresh) => {
      setPicked(null);
      client.setQueryData(key, fresh);
    },
  });

  const save = async (typed: Typed) => {
    await keep(me.id, card.assignment, {
      kind: "check-reading",
      attempt: card.attempt,
      body: {
        id: newId(),
        characteristic: chosen.number,
        element: typed.element,
        value: typed.value,
        unit: typed.unit,
        instrument: typed.instrument,
        supersedes: typed.supersedes ?? null,
        why: "",
        measured_at: new Date().toISOString(),
      },
    });
    setPicked(chosen.number);
    void push();
  };

  const shown = bothShown;
  const choose = (number: number) => {
    setPicked(number);
    focusReading();
  };
  return (
    <main className="page jobcard">
      <div className="between">
        <div>
          <h1>
            {card.name}: {sheet.decided ? say("decided") : shown ? say("both side by side") : say("measure it yourself")}
          </h1>
          <p className="muted">
            <Rich
              text={"<a>{name}</a> · piece {attempt_number} · handed in {handed_in_at}"}
              values={{ name: card.student.name, attempt_number: card.attempt_number, handed_in_at: when(sheet.handed_in_at) }}
              with={{ a: <Link to={`/skills/${card.student.id}`} /> }}
            />
          </p>
        </div>
        <Link className="button" to="/floor">
          {say("Back to the floor")}
        </Link>
      </div>
      {mine.some((e) => e.refused) && <p className="error">{mine.find((e) => e.refused)?.refused}</p>}
      <div className="jobcard-columns checking">
        <div className="stack">
          <Plate version={card.version} chosen={chosen.number} onChoose={choose} />
          {sheet.may_decide && <Decide sheet={sheet} onDecided={(fresh) => client.setQueryData(key, fresh)} onChoose={setPicked} />}
          {sheet.opened && !sheet.decided && !sheet.may_decide && <p className="muted">{say("An instructor decides about the part.")}</p>}
          {sheet.decided && <SignPart sheet={sheet} />}
        </div>
        <div className="stack">
          {last && !shown && <LastSaved number={last.characteristic} name={nameOf(card, last.characteristic)} reading={last.reading} />}
          {!shown && (
            <section className="card pad stack">
              <p className="caution">
                <b>
                  {say("You do not see")} {card.student.name.split(" ")[0]}
                  {say("'s readings yet.")}
                </b>{" "}
                {say("Measure what is marked, and what else you like; then open both.")}
              </p>
              <Entry
                key={chosen.number}
                card={card}
                characteristic={chosen}
                readings={row.mine}
                finding={row.my_finding}
                queued={queued}
                locked={me.role === "auditor" ? say("You may read, not measure.") : ""}
                onSave={(typed) => void save(typed)}
                onNext={() => setPicked(sheet.rows.find((r) => r.proposed && r.mine.length === 0 && r.number !== chosen.number)?.number ?? null)}
              />
              <Button type="primary" size="large" disabled={measured.length === 0 || opening.isPending} onClick={() => opening.mutate()}>
                {say("Show")} {card.student.name.split(" ")[0]}
                {say("'s readings beside mine")}
              </Button>
              <Refused by={opening.error} />
            </section>
          )}
          {shown && (
            <section className="card pad stack">
              <Asked c={chosen} />
              <Compare c={chosen} row={row} student={card.student.name} />
            </section>
          )}
          <section className="card">
            <Sheet sheet={sheet} chosen={chosen.number} onChoose={choose} />
          </section>
        </div>
      </div>
    </main>
  );
}

function nameOf(card: Schema["JobCard"], number: number): string {
  return card.characteristics.find((c) => c.number === number)?.name ?? "";
}
