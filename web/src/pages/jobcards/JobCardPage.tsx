import { sure } from "../../shared/sure";
import { weekday } from "../../shared/time";
import { Button } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { newId, type JobCard, type Reading, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Plate } from "../../instruments/Drawing";
import { StationRule } from "../../instruments/StationRule";
import { keep, type Entry as Queued } from "../../offline/queue";
import { WaitingEntries } from "../../offline/WaitingEntries";
import { useQueue } from "../../offline/useQueue";
import { useMe } from "../../shared/me";
import { Holds } from "../skills/Holds";
import { CharacteristicList } from "./CharacteristicList";
import { nextWanting } from "./choose";
import { Confirm } from "../../shared/Confirm";
import { Entry, LastSaved, type Typed } from "./Entry";
import { focusReading } from "./focus";
import { ReadyPanel, SignPanel, StationPanel } from "./stations";
import "./jobcard.css";
import { Rich, say } from "../../shared/say";

type Station = Schema["Station"];
type Saved = Schema["SavedReading"];

export default function JobCardPage() {
  const { assignment = "" } = useParams();
  const asked = useQuery(queries.jobCard(assignment));
  if (asked.error && !asked.data) {
    return (
      <main className="page">
        <p className="error">{asked.error.message}</p>
      </main>
    );
  }
  if (!asked.data) return <main className="page muted">{say("One moment…")}</main>;
  return <Card card={asked.data} />;
}

function Card({ card }: { card: JobCard }) {
  const me = useMe();
  const own = me.id === card.student.id;
  const client = useQueryClient();
  const [station, setStation] = useState<Station | null>(null);
  const [picked, setPicked] = useState<number | null>(null);
  const [last, setLast] = useState<{ number: number; reading: Reading } | null>(null);
  const [asking, setAsking] = useState(false);
  const [folded, setFolded] = useState(false);

  const merge = (saved: Saved) => {
    const key = queries.jobCard(card.assignment).queryKey;
    const fresh = client.setQueryData(key, (was: JobCard | undefined) => was && withReading(was, saved));
    const now = fresh?.characteristics.find((c) => c.number === saved.characteristic);
    const fine = now && now.finding.verdict === "in" && !now.finding.ask_again;
    if (fine && fresh)
      setPicked((was) => (was === null || was === saved.characteristic ? (nextWanting(fresh.characteristics, saved.characteristic) ?? was) : was));
    else setPicked((was) => was ?? saved.characteristic);
  };
  const { entries, outcome, push } = useQueue(me.id, ({ entry, answer }) => {
    if (entry.kind === "reading" && answer) {
      const saved = answer as Saved;
      setLast({ number: saved.characteristic, reading: saved.reading });
      merge(saved);
    } else if (answer && (entry.kind === "hand-in" || entry.kind === "tick")) {
      const fresh = answer as JobCard;
      client.setQueryData(queries.jobCard(fresh.assignment).queryKey, fresh);
      setStation(null);
    }
  });
  const mine = entries.filter((e) => e.attempt === card.attempt);
  const queuedFor = (number: number) =>
    mine.filter((e): e is Queued & { kind: "reading" } => e.kind === "reading" && e.body.characteristic === number);
  const waitingNumbers = new Set(mine.flatMap((e) => (e.kind === "reading" ? [e.body.characteristic] : [])));
  const handingIn = mine.some((e) => e.kind === "hand-in" && !e.refused);

  const shown = station ?? card.now;
  const first = card.characteristics.find((c) => c.wants) ?? sure(card.characteristics[0]);
  const chosen = card.characteristics.find((c) => c.number === picked) ?? first;
  const choose = (number: number) => {
    setPicked(number);
    if (own) setStation("measure");
    focusReading();
  };

  const save = async (typed: Typed) => {
    await keep(me.id, card.assignment, {
      kind: "reading",
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
  const tick = async () => {
    await keep(me.id, card.assignment, {
      kind: "tick",
      attempt: card.attempt,
      body: { id: newId(), station: shown, at: new Date().toISOString() },
    });
    void push();
  };
  const handIn = async () => {
    setAsking(false);
    await keep(me.id, card.assignment, {
      kind: "hand-in",
      attempt: card.attempt,
      body: { id: newId(), at: new Date().toISOString() },
    });
    void push();
  };

  const locked = !own
    ? say("Only the student enters readings here.")
    : card.missing.length > 0
      ? say("Work starts after the sign-offs: see Ready.")
      : card.over
        ? say("This part is decided; nothing more is entered.")
        : "";
  const unwanted = card.characteristics.filter((c) => c.wants).length;
  const out = card.characteristics.filter((c) => c.finding.verdict !== "in" && c.finding.verdict !== "not_measured");
  const ready = own && !card.handed_in_at && !card.over && card.missing.length === 0;
  const all = card.characteristics.every((c) => c.finding.verdict !== "not_measured" || queuedFor(c.number).length > 0);

  return (
    <main className="page jobcard">
      <div className="between">
        <div>
          <h1>{card.name}</h1>
          <p className="muted">
            {!own && <Link to={`/skills/${card.student.id}`}>{card.student.name}</Link>}
            {!own && " · "}
            {say("piece {attempt_number} · {material}", { attempt_number: card.attempt_number, material: card.material })}
            {card.machine && (
              <>
                <Rich text={" · on <b>{name}</b>"} values={{ name: card.machine.name }} with={{ b: <b className="is-ink" /> }} />
              </>
            )}
            {card.due && say(" · due {weekday}", { weekday: weekday(card.due) })}
          </p>
        </div>
        <div className="row no-print">
          <Button onClick={() => window.print()}>{say("Print")}</Button>
          {ready && (
            <Button type={all && unwanted === 0 ? "primary" : "default"} disabled={!all || handingIn} onClick={() => setAsking(true)}>
              {handingIn ? say("Handing in…") : say("Hand the part in")}
            </Button>
          )}
        </div>
      </div>
      <StationRule stations={card.stations} pointer={card.pointer} chosen={shown} onChoose={setStation} />
      <p className="next-thing" role="status">
        <span className="small">{say("Next")}</span> {card.next_thing}
      </p>
      <WaitingEntries entries={mine} outcome={outcome} />
      {card.hidden && !own && (
        <p className="caution">{say("The student's readings stay hidden from you until you have measured yourself, so that your check is blind.")}</p>
      )}
      <div className="jobcard-columns">
        <div className={folded ? "folded" : ""}>
          <Button className="fold no-print" onClick={() => setFolded(!folded)}>
            {folded ? say("Show the drawing") : say("Hide the drawing")}
          </Button>
          <Plate version={card.version} chosen={chosen.number} onChoose={choose} />
        </div>
        <div className="stack">
          {last && shown === "measure" && (
            <LastSaved number={last.number} name={card.characteristics.find((c) => c.number === last.number)?.name ?? ""} reading={last.reading} />
          )}
          <section className="card pad">
            {shown === "ready" && <ReadyPanel card={card} own={own} />}
            {shown === "measure" && (
              <Entry
                key={chosen.number}
                card={card}
                characteristic={chosen}
                readings={chosen.readings}
                finding={chosen.finding}
                queued={queuedFor(chosen.number)}
                locked={locked}
                onSave={(typed) => void save(typed)}
                onNext={() => setPicked(nextWanting(card.characteristics, chosen.number) ?? null)}
              />
            )}
            {shown === "sign" && <SignPanel card={card} />}
            <StationPanel
              card={card}
              station={shown}
              own={own}
              mayTick={own && card.now === shown && card.missing.length === 0}
              busy={mine.some((e) => e.kind === "tick" && !e.refused)}
              onTick={() => void tick()}
            />
          </section>
          {me.role === "instructor" && !card.over && (
            <Holds student={card.student.id} assignment={card.assignment} set={card.holds.map((h) => h.hold)} />
          )}
          <section className="card">
            <CharacteristicList all={card.characteristics} chosen={chosen.number} waiting={waitingNumbers} onChoose={choose} />
          </section>
        </div>
      </div>
      {asking && (
        <Confirm title={say("Hand the part in?")} yes={say("Hand it in")} onYes={() => void handIn()} onNo={() => setAsking(false)}>
          {out.length > 0 ? (
            <p className="caution">
              <Rich
                text={
                  "<b>Not everything is within its limits:</b> {listed}. You may hand it in; your instructor decides what to do about it. If there is metal left, cut first."
                }
                values={{ listed: out.map((c) => `${c.number} ${c.name}`).join(", ") }}
                with={{ b: <b /> }}
              />
            </p>
          ) : (
            <p>
              {say(
                "Everything is measured and within its limits. After this your readings are closed; your instructor measures without seeing them.",
              )}
            </p>
          )}
          {unwanted > 0 && <p>{say("{unwanted} of the characteristics need one more reading.", { unwanted })}</p>}
        </Confirm>
      )}
    </main>
  );
}

/** The card with a saved reading in its place, until the next full answer. */
function withReading(card: JobCard, saved: Saved): JobCard {
  return {
    ...card,
    characteristics: card.characteristics.map((c) =>
      c.number !== saved.characteristic
        ? c
        : {
            ...c,
            finding: saved.finding,
            readings: [...c.readings.filter((r) => r.id !== saved.reading.id), saved.reading],
          },
    ),
  };
}
