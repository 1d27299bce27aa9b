import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, body, newId, wordsFor, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Loading } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { say, sayMany } from "../../shared/say";
import { sure } from "../../shared/sure";
import { dayOfYear } from "../../shared/time";
import { NextTerm } from "./NextTerm";
import { TermParts } from "./TermParts";
import "./term.css";

type Term = Schema["TermPage"];
type Part = Schema["TermPart"];
type MadeState = Schema["MadeState"];

export const MADE_WORDS: Record<MadeState, string> = {
  none: say("not assigned"),
  at_work: say("being made"),
  handed_in: say("handed in"),
  accepted: say("accepted"),
  scrapped: say("scrapped"),
};

/** A group's term: its parts in their order, how far each student is, who is ready for the next one. */
export default function TermPage() {
  const { group = "" } = useParams();
  const me = useMe();
  const { data, error } = useQuery(queries.term(group));
  const [open, setOpen] = useState<"parts" | "next" | null>(null);
  if (!data) return <Loading error={error} />;
  const changes = me.role === "instructor";
  return (
    <main className="page stack">
      <header className="between">
        <div>
          <h1>{data.group.name}</h1>
          <p className="muted">{termWords(data)}</p>
        </div>
        {changes && (
          <div className="row">
            <Button onClick={() => setOpen("parts")}>{say("Choose the parts")}</Button>
            <Button type="primary" onClick={() => setOpen("next")}>
              {say("Begin the next term")}
            </Button>
          </div>
        )}
      </header>
      {data.parts.length === 0 ? (
        <section className="card pad">
          <p>{say("The parts this group makes will appear here, with how far everybody is. Choose them, or assign the first one in the library.")}</p>
        </section>
      ) : (
        <Matrix term={data} changes={changes && !data.over} />
      )}
      {data.parts.length > 0 && !data.chosen && (
        <p className="small muted">{say("Nobody has chosen the parts of this term: these are the ones that were assigned, in that order.")}</p>
      )}
      {open === "parts" && <TermParts term={data} onClose={() => setOpen(null)} />}
      {open === "next" && <NextTerm term={data} onClose={() => setOpen(null)} />}
    </main>
  );
}

function termWords(term: Term): string {
  const { begins, ends } = term;
  if (term.over) return say("ended {day}", { day: dayOfYear(sure(ends)) });
  if (begins && ends) return say("{begins} to {ends}", { begins: dayOfYear(begins), ends: dayOfYear(ends) });
  if (begins) return say("from {begins}", { begins: dayOfYear(begins) });
  if (ends) return say("until {ends}", { ends: dayOfYear(ends) });
  return say("without an end");
}

function Matrix({ term, changes }: { term: Term; changes: boolean }) {
  return (
    <section className="card term-scroll" tabIndex={0} aria-label={say("Parts of the term")}>
      <table className="term">
        <thead>
          <tr>
            <th className="name">{sayMany("{count} student", "{count} students", term.students.length)}</th>
            {term.parts.map((p, n) => (
              <th key={p.project}>
                <span className="small muted">{n + 1}</span>
                <Link to={`/parts/${p.project}`}>{p.name}</Link>
                <span className="small muted">{say("{accepted} of {given} accepted", { accepted: p.accepted, given: p.given })}</span>
                {changes && <Give term={term} part={p} />}
              </th>
            ))}
            <th>{say("Next")}</th>
          </tr>
        </thead>
        <tbody>
          {term.students.map((s) => (
            <tr key={s.student.id}>
              <th className="name">
                <Link to={`/skills/${s.student.id}`}>{s.student.name}</Link>
              </th>
              {s.cells.map((c, n) => (
                <td key={sure(term.parts[n]).project}>
                  {c.assignment ? (
                    <Link
                      to={`/job/${c.assignment}`}
                      aria-label={say("{part}, {student}: {state}", {
                        part: sure(term.parts[n]).name,
                        student: s.student.name,
                        state: MADE_WORDS[c.state],
                      })}
                    >
                      <MadeMark state={c.state} />
                    </Link>
                  ) : (
                    <MadeMark state={c.state} />
                  )}
                </td>
              ))}
              <td className="next">
                <Next term={term} student={s} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="small muted row pad">
        {Object.entries(MADE_WORDS).map(([state, words]) => (
          <span key={state} className="row">
            <MadeMark state={state as MadeState} /> {words}
          </span>
        ))}
      </p>
    </section>
  );
}

function Next({ term, student: s }: { term: Term; student: Schema["TermStudent"] }) {
  const part = term.parts.find((p) => p.project === s.next);
  if (!part) return <span className="muted">{say("has had every part")}</span>;
  return (
    <>
      {part.name}
      <span className={s.missing.length ? "small needs" : "small muted"}>{s.missing.length ? lacking(s.missing) : say("ready for it")}</span>
    </>
  );
}

/** So many skills are named in a line. */
const NAMED = 2;

function lacking(missing: readonly string[]): string {
  const listed = missing.slice(0, NAMED).join(", ");
  const more = missing.length - NAMED;
  return more > 0 ? say("sign-offs first: {listed} and {more} more", { listed, more }) : say("sign-offs first: {listed}", { listed });
}

/** Gives a part to everybody for whom it is the next one and who has every skill it needs. */
function Give({ term, part }: { term: Term; part: Part }) {
  const client = useQueryClient();
  const ready = term.students.filter((s) => s.next === part.project && s.missing.length === 0);
  const [ids] = useState(() => new Map(term.students.map((s) => [s.student.id, newId()])));
  const giving = useMutation({
    mutationFn: () =>
      body(
        api.POST("/api/givings", {
          body: {
            version: part.version,
            machine: null,
            due: null,
            to: ready.map((s) => ({ id: ids.get(s.student.id) ?? newId(), student: s.student.id, not_before_signed: false })),
          },
        }),
      ),
    onSuccess: () => client.invalidateQueries(),
  });
  if (ready.length === 0) return null;
  const assigning = sayMany("Assign to {count} who is ready", "Assign to {count} who are ready", ready.length);
  return (
    <>
      <Button
        size="small"
        disabled={giving.isPending}
        aria-label={say("{words}: {part}, {names}", { words: assigning, part: part.name, names: ready.map((s) => s.student.name).join(", ") })}
        onClick={() => giving.mutate()}
      >
        {assigning}
      </Button>
      {giving.error && (
        <span className="error small" role="alert">
          {wordsFor(giving.error)}
        </span>
      )}
    </>
  );
}

/** The blank, the blank with a step cut, the step handed over a line, ticked, or struck through. */
const SHAPES: Record<MadeState, string> = {
  none: "M4 16H20",
  at_work: "M4 18V6H12V11H20V18Z",
  handed_in: "M4 15V5H12V9H20V15ZM3 20H21",
  accepted: "M4 18V6H12V11H20V18ZM7 13 10 16 15 9",
  scrapped: "M4 18V6H12V11H20V18ZM3 21 21 3",
};
const COLOURS: Record<MadeState, string> = {
  none: "var(--muted)",
  at_work: "var(--blue)",
  handed_in: "var(--brass)",
  accepted: "var(--good)",
  scrapped: "var(--bad)",
};

function MadeMark({ state }: { state: MadeState }) {
  return (
    <svg width="26" height="26" viewBox="0 0 24 24" role="img" aria-label={MADE_WORDS[state]}>
      <path d={SHAPES[state]} fill="none" stroke={COLOURS[state]} strokeWidth={state === "none" ? 1.2 : 2} />
    </svg>
  );
}
