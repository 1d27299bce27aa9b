import { Waiting } from "../../shared/Loading";
import { Button, Input } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { NavLink, useParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import { when } from "../../shared/time";
import { Cutters } from "./Cutters";
import { Materials } from "./Materials";
import { Tables } from "./Tables";
import "./crib.css";
import { Lines } from "../../shared/Lines";
import { say, sayMany } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Crib = Schema["CribPage"];
type Thing = Schema["ThingView"];
type Out = Schema["OutView"];

const PLACES = [
  ["counter", say("Counter")],
  ["cutters", say("Cutters")],
  ["materials", say("Materials")],
  ["tables", say("Import and export")],
] as const;

/** The crib: the counter where cutters and gauges go out and come back, and the registers behind it. */
export default function CribPage() {
  const { place = "counter" } = useParams();
  const me = useMe();
  return (
    <main className="page stack">
      <div className="between">
        <h1>{say("Crib")}</h1>
        <nav className="crib-places" aria-label={say("Crib")}>
          {PLACES.filter(([key]) => key !== "tables" || me.role !== "student").map(([key, name]) => (
            <NavLink key={key} to={`/crib/${key}`} className={place === key ? "on" : ""}>
              {name}
            </NavLink>
          ))}
        </nav>
      </div>
      {place === "counter" && <Counter />}
      {place === "cutters" && <Cutters />}
      {place === "materials" && <Materials />}
      {place === "tables" && <Tables />}
    </main>
  );
}

function Counter() {
  const me = useMe();
  const { data, error } = useQuery(queries.crib());
  if (!data) return <Waiting error={error} />;
  const staff = me.role === "instructor" || me.role === "assistant";
  const late = data.out.filter((o) => o.late);
  return (
    <>
      {late.length > 0 && (
        <p className="caution">
          <b>{sayMany("Still out from an earlier session:", "{count} things are still out from an earlier session:", late.length)}</b>{" "}
          {late.map((o) => say("{thing} ({person})", { thing: o.thing.name, person: o.person.name })).join(", ")}.
        </p>
      )}
      <div className={staff ? "crib-columns" : "stack"}>
        {staff && <HandOut crib={data} />}
        <OutList crib={data} staff={staff} />
      </div>
    </>
  );
}

/** What, then for whom: two touches. */
function HandOut({ crib }: { crib: Crib }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [text, setText] = useState("");
  const [picked, setPicked] = useState<Thing | null>(null);
  const [note, setNote] = useState("");
  const [said, setSaid] = useState("");
  const [name, setName] = useState("");
  const found = useQuery({ ...queries.students(name.trim()), enabled: name.trim() !== "" });
  const words = text.trim().toLowerCase().split(/\s+/).filter(Boolean);
  // a label's code is an address with the id in it
  const scanned = crib.things.filter((t) => text.includes(t.id));
  const hits =
    scanned.length > 0 ? scanned : crib.things.filter((t) => words.every((w) => `${t.name} ${t.kind} ${t.place}`.toLowerCase().includes(w)));
  const kinds = [...new Set(crib.things.map((t) => t.kind))];
  const thing = picked && (crib.things.find((t) => t.id === picked.id) ?? null);
  const give = (person: Schema["Named"]) =>
    act(async () => {
      if (!thing) return;
      const sent = {
        id: newId(),
        person: person.id,
        cutter: thing.gauge ? null : thing.id,
        instrument: thing.gauge ? thing.id : null,
        note,
      };
      client.setQueryData(queries.crib().queryKey, await body(api.POST("/api/crib/issues", { body: sent })));
      void client.invalidateQueries({ queryKey: ["session"] });
      setSaid(say("{name} is out with {name2}.", { name: thing.name, name2: person.name }));
      setPicked(null);
      setText("");
      setNote("");
      setName("");
    });
  return (
    <section className="card pad stack" aria-label={say("Hand out")}>
      <h2>{say("Hand out")}</h2>
      {!thing && (
        <>
          <Input
            autoFocus
            placeholder={say("What? A few letters, or scan its label: 1/2 4 fl, drill F, M6")}
            aria-label={say("What is handed out")}
            value={text}
            maxLength={300}
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => e.key === "Enter" && hits[0] && setPicked(hits[0])}
          />
          {said && (
            <p className="small" role="status">
              {said}
            </p>
          )}
          {words.length === 0 && (
            <div className="crib-kinds">
              {kinds.map((k) => (
                <Button key={k} onClick={() => setText(k)}>
                  {say(k)}
                </Button>
              ))}
            </div>
          )}
          {words.length > 0 && (
            <div className="crib-things">
              {hits.slice(0, 30).map((t) => (
                <button key={t.id} className="crib-thing" disabled={Boolean(t.closed) || t.inside === 0} onClick={() => setPicked(t)}>
                  <span className="grow">
                    {t.name}
                    <small>{t.closed ? say("tagged out: {closed}", { closed: t.closed }) : t.place}</small>
                  </span>
                  <Inside thing={t} />
                </button>
              ))}
              {hits.length > 30 && <p className="small muted">{say("{count} more: type another letter.", { count: hits.length - 30 })}</p>}
              {hits.length === 0 && <p className="small muted">{say("Nothing in the crib is called that.")}</p>}
            </div>
          )}
        </>
      )}
      {thing && (
        <>
          <p className="between">
            <b className="head crib-picked">{thing.name}</b>
            <Button onClick={() => setPicked(null)}>{say("Something else")}</Button>
          </p>
          {thing.cautions.map((c) => (
            <p key={c} className="caution small">
              {c}
            </p>
          ))}
          <label className="asked">
            {say("A remark, if there is one")}
            <Input value={note} maxLength={200} onChange={(e) => setNote(e.target.value)} />
          </label>
          <h3>{say("For whom?")}</h3>
          <Input
            aria-label={say("Find somebody else")}
            placeholder={crib.people.length ? say("Somebody else? A few letters") : say("Whose? A few letters of the name")}
            value={name}
            maxLength={60}
            onChange={(e) => setName(e.target.value)}
          />
          <div className="crib-people">
            {(name.trim() ? (found.data?.students ?? []).map((f) => f.student) : crib.people).map((p) => (
              <Button key={p.id} size="large" disabled={busy} onClick={() => void give(p)}>
                {p.name}
              </Button>
            ))}
          </div>
        </>
      )}
      <Refused words={error} />
    </section>
  );
}

/** How many of a thing are in, as places of a rack: filled ones are there. */
function Inside({ thing: t }: { thing: Thing }) {
  const places = Math.min(t.owned, 8);
  const filled = Math.min(t.inside, places);
  return (
    <span className="crib-inside" aria-label={say("{inside} of {owned} in", { inside: t.inside, owned: t.owned })}>
      {Array.from({ length: places }, (_, i) => (
        <i key={i} className={i < filled ? "on" : ""} />
      ))}
      <span className="num">{say("{inside} of {owned}", { inside: t.inside, owned: t.owned })}</span>
    </span>
  );
}

function OutList({ crib, staff }: { crib: Crib; staff: boolean }) {
  const people = [...new Map(crib.out.map((o) => [o.person.id, o.person])).values()];
  return (
    <div className="stack">
      <section className="card" aria-label={say("Out now")}>
        <h2 className="pad">{staff ? say("Out now: {count}", { count: crib.out.length }) : say("What you have")}</h2>
        {crib.out.length === 0 && (
          <p className="pad muted">{say("Everything is in. What goes out is listed here, person by person, until it comes back.")}</p>
        )}
        {people.map((p) => (
          <div key={p.id} className="crib-person">
            {staff && <h3>{p.name}</h3>}
            {crib.out
              .filter((o) => o.person.id === p.id)
              .map((o) => (
                <Back key={o.id} out={o} staff={staff} />
              ))}
          </div>
        ))}
      </section>
      {crib.back.length > 0 && (
        <section className="card">
          <h2 className="pad">{say("Last returned")}</h2>
          <Lines
            rows={crib.back.slice(0, 8)}
            showHeader={false}
            columns={[
              {
                key: "0",
                title: "",
                render: (_, b) => (
                  <>
                    {b.thing}
                    {b.note && <div className="small muted">{b.note}</div>}
                  </>
                ),
              },
              { key: "1", title: "", render: (_, b) => b.person },
              {
                key: "2",
                title: "",
                render: (_, b) => (b.condition === "fine" ? say(b.condition) : <span className="needs">{say(b.condition)}</span>),
              },
              { key: "3", title: "", className: "num small muted", render: (_, b) => when(b.at) },
            ]}
          />
        </section>
      )}
    </div>
  );
}

const WORSE = ["worn", "broken", "missing"] as const;

function Back({ out, staff }: { out: Out; staff: boolean }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [asking, setAsking] = useState(false);
  const [note, setNote] = useState("");
  const send = (condition: Schema["Condition"]) =>
    act(async () => {
      const fresh = await body(api.POST("/api/crib/issues/{issue}/return", { params: { path: { issue: out.id } }, body: { condition, note } }));
      client.setQueryData(queries.crib().queryKey, fresh);
      void client.invalidateQueries({ queryKey: ["session"] });
      void client.invalidateQueries({ queryKey: ["stock"] });
    });
  return (
    <div className="crib-out">
      <div className="row">
        <span className="grow">
          {out.thing.name} {out.late && <span className="needs">{say("earlier session")}</span>}
          <small className="muted">{say(" since {at}", { at: when(out.at) })}</small>
        </span>
        {staff && (
          <>
            <Button disabled={busy} onClick={() => setAsking(!asking)}>
              {say("Damaged or lost")}
            </Button>
            <Button type="primary" disabled={busy} onClick={() => void send("fine")}>
              {say("Back")}
            </Button>
          </>
        )}
      </div>
      {asking && (
        <div className="crib-worse">
          <label className="asked grow">
            {say("What happened?")}
            <Input autoFocus value={note} maxLength={300} onChange={(e) => setNote(e.target.value)} />
          </label>
          {WORSE.map((c) => (
            <Button key={c} danger={c !== "worn"} disabled={busy || note.trim().length < 3} onClick={() => void send(c)}>
              {c}
            </Button>
          ))}
        </div>
      )}
      <Refused words={error} />
    </div>
  );
}
