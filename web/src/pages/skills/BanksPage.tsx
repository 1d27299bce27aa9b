import { Button, Checkbox, Input, Select } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, body, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Loading } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import "./knowledge.css";
import { Sketch } from "../../instruments/Sketch";
import { Lines } from "../../shared/Lines";
import { say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Row = Schema["QuestionRow"];

/** The question banks: what is in them, and which questions the class fails. */
export default function BanksPage() {
  const { bank } = useParams();
  const { data, error } = useQuery(queries.banks());
  const me = useMe();
  if (!data) return <Loading error={error} />;
  return (
    <main className="page stack">
      <h1>{say("Question banks")}</h1>
      <nav className="registers" aria-label={say("Banks")}>
        {data.banks.map((b) => (
          <Link key={b.bank} to={`/questions/${b.bank}`} className={b.bank === bank ? "active" : ""}>
            {b.name} <span className="small">{b.live}</span>
          </Link>
        ))}
      </nav>
      {bank ? <Bank key={bank} bank={bank} mayEdit={me.role === "instructor"} /> : <Hardest rows={data.hardest} />}
    </main>
  );
}

function Hardest({ rows }: { rows: readonly Row[] }) {
  return (
    <section className="card pad stack">
      <h2>{say("What the class fails most")}</h2>
      {rows.length === 0 && <p className="muted">{say("Nobody has answered anything wrongly yet.")}</p>}
      <Questions rows={rows} />
    </section>
  );
}

function Questions({ rows, onPick, picked }: { rows: readonly Row[]; onPick?: (id: string) => void; picked?: string }) {
  return (
    <Lines
      rows={rows}
      rowKey={(q) => q.id}
      showHeader={false}
      onRow={(q) => ({ className: q.id === picked ? "picked" : "" })}
      columns={[
        {
          key: "0",
          title: "",
          className: "failed",
          render: (_, q) => <Failed wrong={q.wrong} answered={q.answered} />,
        },
        {
          key: "1",
          title: "",
          render: (_, q) => (
            <>
              {onPick ? (
                <Button type="text" className="plain" onClick={() => onPick(q.id)}>
                  {q.text}
                </Button>
              ) : (
                q.text
              )}
              {q.critical && <span className="needs">{say("critical")}</span>}
              {q.retired && <span className="needs">{say("retired")}</span>}
            </>
          ),
        },
        { key: "2", title: "", className: "small muted", render: (_, q) => KINDS[q.kind] },
      ]}
    />
  );
}

const KINDS: Record<string, string> = {
  choose: say("choose"),
  order: say("put in order"),
  point: say("point at"),
  spot: say("spot the fault"),
  number: say("a number"),
  judge: say("judge drawings"),
  term: say("a word of the trade"),
};

/** The share of wrong answers as a bar with its numbers. */
function Failed({ wrong, answered }: { wrong: number; answered: number }) {
  if (answered === 0) return <span className="small muted">{say("never asked")}</span>;
  return (
    <span className="small" title={say("{wrong} of {answered} answers wrong", { wrong, answered })}>
      <svg width="60" height="10" aria-hidden="true">
        <rect width="60" height="10" fill="var(--line)" />
        <rect width={(60 * wrong) / answered} height="10" fill="var(--bad)" />
      </svg>{" "}
      {say("{wrong} of {answered}", { wrong, answered })}
    </span>
  );
}

type Question = {
  id: string;
  kind: string;
  text: string;
  why: string;
  otherwise: string;
  critical: boolean;
  retired: boolean;
  [more: string]: unknown;
};

function Bank({ bank, mayEdit }: { bank: string; mayEdit: boolean }) {
  const { data, error } = useQuery(queries.bank(bank));
  if (!data) return <p className={error ? "error" : "muted"}>{error ? error.message : say("One moment…")}</p>;
  return <Edit key={data.number} detail={data} mayEdit={mayEdit} />;
}

function Edit({ detail, mayEdit }: { detail: Schema["BankDetail"]; mayEdit: boolean }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [picked, setPicked] = useState("");
  const file = JSON.parse(detail.file) as { questions: Question[] };
  const question = file.questions.find((q) => q.id === picked);
  const save = (questions: Question[]) =>
    act(async () => {
      const text = JSON.stringify({ ...file, questions });
      const fresh = await body(api.PUT("/api/banks/{bank}", { params: { path: { bank: detail.bank } }, body: { file: text } }));
      client.setQueryData(queries.bank(detail.bank).queryKey, fresh);
      await client.invalidateQueries({ queryKey: queries.banks().queryKey });
    });
  const put = (changed: Question) => {
    const there = file.questions.some((q) => q.id === changed.id);
    return save(there ? file.questions.map((q) => (q.id === changed.id ? changed : q)) : [...file.questions, changed]);
  };
  const add = () => {
    const numbers = file.questions.map((q) => q.id);
    let n = file.questions.length + 1;
    while (numbers.includes(`${detail.bank}-${n}`)) n += 1;
    setPicked("new");
    return `${detail.bank}-${n}`;
  };
  const [newName, setNewName] = useState("");
  const shown = picked === "new" ? blank(newName, "choose") : question;
  return (
    <div className="bank-columns">
      <section className="card pad stack">
        <div className="between">
          <p className="muted">
            {say("Version {number}: {draw} are drawn, {pass_percent} % pass.", {
              number: detail.number,
              draw: detail.draw,
              pass_percent: detail.pass_percent,
            })}
          </p>
          <a className="button" download={`${detail.bank}.json`} href={`data:application/json;charset=utf-8,${encodeURIComponent(detail.file)}`}>
            {say("Download as JSON")}
          </a>
        </div>
        <Questions rows={detail.questions} picked={picked} onPick={setPicked} />
        {mayEdit && <Button onClick={() => setNewName(add())}>{say("Add a question")}</Button>}
      </section>
      {shown && (
        <section className="card pad">
          <Form
            key={shown.id}
            question={shown}
            drawn={detail.drawn[shown.id] ?? []}
            fresh={picked === "new"}
            busy={busy}
            mayEdit={mayEdit}
            error={error}
            onSave={(q) => void put(q).then((ok) => ok && setPicked(q.id))}
          />
        </section>
      )}
    </div>
  );
}

type Option = { says: string; right: boolean; draw: Record<string, unknown> };

function drawnOption(right: boolean): Option {
  return { says: "", right, draw: { look: "vise", grip: right ? 24 : 4 } };
}

/** An empty question of a kind. */
function blank(id: string, kind: string): Question {
  const own: Record<string, Record<string, unknown>> = {
    choose: { right: [""], wrong: [""] },
    order: { steps: [""] },
    point: { picture: "knee-mill", part: "" },
    spot: { picture: "at-the-mill", faults: [""] },
    number: { low: "", high: "", unit: "" },
    judge: { options: [drawnOption(true), drawnOption(false)] },
    term: { term: "", others: [""] },
  };
  return { id, kind, text: "", why: "", otherwise: "", critical: false, retired: false, ...own[kind] };
}

/** The drawn options: what each shows, whether it is right, and the values it is drawn from. */
function Options({
  of,
  drawn,
  mayEdit,
  onChange,
}: {
  of: Option[];
  drawn: readonly Schema["PictureView"][];
  mayEdit: boolean;
  onChange: (options: Option[]) => void;
}) {
  const put = (i: number, change: Partial<Option>) => onChange(of.map((o, n) => (n === i ? { ...o, ...change } : o)));
  return (
    <div className="judged">
      {of.map((o, i) => (
        <section key={i} className="stack">
          {drawn[i] ? <Sketch of={drawn[i]} wide={320} high={210} /> : <p className="small muted">{say("Drawn once it is saved.")}</p>}
          <Input.TextArea
            rows={2}
            aria-label={say("What option {place} shows", { place: i + 1 })}
            disabled={!mayEdit}
            value={o.says}
            onChange={(e) => put(i, { says: e.target.value })}
          />
          <Values
            label={say("Values that option {place} is drawn from", { place: i + 1 })}
            of={o.draw}
            mayEdit={mayEdit}
            onChange={(draw) => put(i, { draw })}
          />
          <Checkbox disabled={!mayEdit} checked={o.right} onChange={(e) => put(i, { right: e.target.checked })}>
            {say("right")}
          </Checkbox>
        </section>
      ))}
      {mayEdit && of.length < 6 && <Button onClick={() => onChange([...of, drawnOption(false)])}>{say("Add a drawing")}</Button>}
    </div>
  );
}

/** Names and values, one a line: ``grip: 24``. */
function Values({
  label,
  of,
  mayEdit,
  onChange,
}: {
  label: string;
  of: Record<string, unknown>;
  mayEdit: boolean;
  onChange: (values: Record<string, unknown>) => void;
}) {
  const [typed, setTyped] = useState(() =>
    Object.entries(of)
      .filter(([, v]) => v !== null)
      .map(([k, v]) => `${k}: ${String(v)}`)
      .join("\n"),
  );
  const read = (text: string) => {
    setTyped(text);
    const pairs = text.split("\n").map((line) => line.split(":", 2).map((x) => x.trim()));
    const values: Record<string, unknown> = {};
    for (const [k, v] of pairs) if (k && v !== undefined) values[k] = valueOf(v);
    onChange(values);
  };
  return <Input.TextArea rows={3} aria-label={label} disabled={!mayEdit} value={typed} onChange={(e) => read(e.target.value)} />;
}

function valueOf(text: string): unknown {
  if (text === "true" || text === "false") return text === "true";
  return text !== "" && !Number.isNaN(Number(text)) ? Number(text) : text;
}

function Form({
  question,
  drawn,
  fresh,
  busy,
  mayEdit,
  error,
  onSave,
}: {
  question: Question;
  drawn: readonly Schema["PictureView"][];
  fresh: boolean;
  busy: boolean;
  mayEdit: boolean;
  error: string;
  onSave: (q: Question) => void;
}) {
  const [q, setQ] = useState(question);
  const text = (field: string, label: string, rows = 2) => (
    <label className="asked">
      {label}
      <Input.TextArea rows={rows} disabled={!mayEdit} value={asText(q[field])} onChange={(e) => setQ({ ...q, [field]: e.target.value })} />
    </label>
  );
  const lines = (field: string, label: string) => (
    <label className="asked">
      {say("{label}, one a line", { label })}
      <Input.TextArea
        rows={3}
        disabled={!mayEdit}
        value={(q[field] as string[] | undefined)?.join("\n") ?? ""}
        onChange={(e) => setQ({ ...q, [field]: e.target.value.split("\n") })}
      />
    </label>
  );
  return (
    <form
      className="stack"
      onSubmit={(e) => {
        e.preventDefault();
        const tidy = (v: unknown) => (typeof v === "string" ? v.trim() : v);
        const clean = Object.entries(q).map(([k, v]) => [k, Array.isArray(v) ? v.map(tidy).filter(Boolean) : v]);
        onSave(Object.fromEntries(clean) as Question);
      }}
    >
      <div className="between">
        {fresh ? (
          <label className="asked">
            {say("Kind")}
            <Select
              showSearch={{ optionFilterProp: "label" }}
              value={q.kind}
              onChange={(picked) => setQ({ ...blank(q.id, picked), text: q.text })}
              options={[...Object.entries(KINDS).map(([kind, name]) => ({ value: kind, label: name }))]}
            />
          </label>
        ) : (
          <h2>{KINDS[q.kind]}</h2>
        )}
        <span className="small muted">{q.id}</span>
      </div>
      {q.kind !== "term" && text("text", say("Question"))}
      {q.kind === "judge" && <Options of={q.options as Option[]} drawn={drawn} mayEdit={mayEdit} onChange={(options) => setQ({ ...q, options })} />}
      {q.kind === "term" && text("term", say("Word of the glossary"), 1)}
      {q.kind === "term" && lines("others", say("Other words of the glossary"))}
      {q.kind === "choose" && lines("right", say("Right answers"))}
      {q.kind === "choose" && lines("wrong", say("Wrong answers"))}
      {q.kind === "order" && lines("steps", say("Steps in their right order"))}
      {(q.kind === "spot" || q.kind === "point") && text("picture", say("Picture (knee-mill, at-the-mill, in-the-vise)"), 1)}
      {q.kind === "spot" && lines("faults", say("Places of the picture that are wrong"))}
      {q.kind === "point" && text("part", say("Place of the picture"), 1)}
      {q.kind === "number" && (
        <div className="row">
          {text("low", say("From"), 1)}
          {text("high", say("to"), 1)}
          {text("unit", say("Unit"), 1)}
        </div>
      )}
      {q.kind !== "term" && text("why", say("Why"))}
      {q.kind !== "term" && text("otherwise", say("What happens otherwise"))}
      <div className="row">
        <Checkbox className="row" disabled={!mayEdit} checked={q.critical} onChange={(e) => setQ({ ...q, critical: e.target.checked })}>
          {say("must be right")}
        </Checkbox>
        <Checkbox className="row" disabled={!mayEdit} checked={q.retired} onChange={(e) => setQ({ ...q, retired: e.target.checked })}>
          {say("retired: asked no more")}
        </Checkbox>
      </div>
      <Refused words={error} />
      {mayEdit && (
        <Button type="primary" htmlType="submit" disabled={busy}>
          {say("Save as the next version")}
        </Button>
      )}
    </form>
  );
}

/** A field of a question as it is typed. */
function asText(value: unknown): string {
  return typeof value === "string" || typeof value === "number" ? String(value) : "";
}
