import { HandleDial } from "../../instruments/HandleDial";
import { Waiting } from "../../shared/Loading";
import { Fold } from "../../shared/Fold";
import { Button, Descriptions, Input, Select } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Photo } from "./Photo";
import { Leaving } from "../../shared/Leaving";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import { dayOfYear, when } from "../../shared/time";
import "../../look/pictures.css";
import "./machines.css";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Detail = Schema["MachineDetail"];
type Spec = Schema["Machine"];

const KINDS = {
  turret_knee: say("turret knee mill"),
  plain_vertical: say("plain vertical mill"),
  bench: say("bench mill"),
  horizontal: say("horizontal mill"),
};
const NOTES = { head: say("head moved"), vise: say("vise moved"), wear: "wear", service: "service" };

/** A machine as the register has it: its head, table, spindle, every handle, its history. */
export default function MachinePage() {
  const { machine = "" } = useParams();
  const { data, error } = useQuery(queries.machine(machine));
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  return <Entry key={machine} detail={data} />;
}

function Entry({ detail: d }: { detail: Detail }) {
  const me = useMe();
  const s = d.spec;
  const u = s.unit;
  return (
    <main className="page stack">
      <div className="between">
        <div>
          <h1>{d.machine.name}</h1>
          <p className="muted">
            {d.about} · {KINDS[s.kind]}, {s.make} {d.tagged_out && <span className="needs">{d.tagged_out}</span>}
          </p>
          {d.gone && <p className="caution">{say("No longer in the shop: {why}", { why: d.gone })}</p>}
        </div>
        <span className="row nowrap">
          {me.role === "instructor" && !d.gone && <Leaving thing="machine" what={d.machine} />}
          {!d.gone && (
            <Link className="button" to={`/start/${d.machine.id}`}>
              {say("Before starting it")}
            </Link>
          )}
          <Link className="button" to={`/machines/${d.machine.id}/moves`}>
            {say("Moves and dials")}
          </Link>
          {!d.gone && (
            <Link className="button first" to={`/setup/${d.machine.id}`}>
              {say("Set it up")}
            </Link>
          )}
        </span>
      </div>
      <Photo detail={d} />
      <div className="machine-columns">
        <section className="card pad stack">
          <h2>{say("Handles")}</h2>
          <div className="machine-handles">
            {s.handles.map((h, i) => (
              <Handle key={h.place} handle={h} division={d.divisions[i] ?? ""} />
            ))}
          </div>
        </section>
        <div className="stack">
          <section className="card">
            <Descriptions
              column={1}
              size="small"
              bordered
              items={[
                { key: "Head", label: say("Head"), children: <>{headWords(s)}</> },
                {
                  key: "Table",
                  label: say("Table"),
                  children: (
                    <>
                      {s.table.length} × {s.table.width} {u}
                      {s.table.slots.length > 0 && say(", {count} slots", { count: s.table.slots.length })}
                    </>
                  ),
                },
                {
                  key: "Travel",
                  label: say("Travel"),
                  children: (
                    <>
                      {s.travel[0]} × {s.travel[1]} × {s.travel[2]} {u}
                    </>
                  ),
                },
                {
                  key: "Spindle",
                  label: say("Spindle"),
                  children: (
                    <>
                      {s.spindle.taper}, {s.spindle.watts} W
                    </>
                  ),
                },
                {
                  key: "Speeds",
                  label: say("Speeds"),
                  children: (
                    <>
                      {say("{listed} rpm", {
                        listed:
                          s.spindle.steps.length > 0
                            ? s.spindle.steps.join(" · ")
                            : s.spindle.ranges.map(([a, b]) => say("{a} to {b}", { a, b })).join(", "),
                      })}{" "}
                      <div className="small muted">
                        {" "}
                        {s.spindle.changes_running ? say("Changed only while the spindle runs.") : say("Changed only with the spindle stopped.")}{" "}
                        {s.spindle.low_range_reverses && say(" The low range turns the other way.")}{" "}
                      </div>
                    </>
                  ),
                },
                {
                  key: "Quill",
                  label: say("Quill"),
                  children: (
                    <>
                      {s.quill_travel === "0" ? say("none") : `${s.quill_travel} ${u}`}
                      {s.quill_feeds.length > 0 && say(", feeds {listed} {u} a turn", { listed: s.quill_feeds.join(" · "), u })}
                    </>
                  ),
                },
                { key: "Readout", label: say("Readout"), children: <>{axes(s.readout)}</> },
                { key: "Power feed", label: say("Power feed"), children: <>{axes(s.power_feed)}</> },
                ...(s.wear ? [{ key: "Wear", label: say("Wear"), children: <>{s.wear}</> }] : []),
              ]}
            />
          </section>
          <Notes detail={d} />
        </div>
      </div>
      {me.role === "instructor" && <Change detail={d} />}
    </main>
  );
}

const axes = (of: readonly string[] | undefined) => (of && of.length > 0 ? of.join(", ").toUpperCase() : "none");

function headWords(s: Spec): string {
  const nod = s.head.nod;
  if (!s.head.tilt && !nod) return say("fixed");
  const words = s.head.tilt ? [say("tilts side to side")] : [];
  if (nod)
    words.push(
      nod.behind
        ? say("nods, its pivot {behind} {unit} behind the spindle", { behind: nod.behind, unit: s.unit })
        : say("nods; where it pivots is not known yet"),
    );
  else words.push(say("does not nod"));
  return words.join("; ");
}

const GOES = { x: say("the table goes"), y: say("the table goes"), knee: say("the knee goes"), quill: say("the quill goes") };

/** A handle's dial with what clockwise does; the numbers are what a student reckons with. */
function Handle({ handle: h, division }: { handle: Spec["handles"][number]; division: string }) {
  return (
    <div className="machine-handle">
      <HandleDial
        clockwise={h.clockwise}
        said={say("{place}: turned clockwise, {goes} {clockwise}", { place: h.place, goes: GOES[h.axis], clockwise: h.clockwise })}
      />
      <div>
        <b className="head">{h.place}</b>
        <div>
          <Rich
            text={"Clockwise {goes} <b>{clockwise}</b>; numbers rise {dial_up}"}
            values={{ goes: GOES[h.axis], clockwise: h.clockwise, dial_up: h.dial_up }}
            with={{ b: <b /> }}
          />
        </div>
        <div>{say("One turn {per_turn} {unit}, one division {division}", { per_turn: h.per_turn, unit: h.unit, division })}</div>
        <div className="small muted">
          {h.backlash
            ? say("backlash {backlash} {unit}{dayOfYear}", {
                backlash: h.backlash,
                unit: h.unit,
                dayOfYear: h.measured ? say(", measured {dayOfYear}", { dayOfYear: dayOfYear(h.measured) }) : "",
              })
            : say("backlash not measured yet")}
        </div>
      </div>
    </div>
  );
}

function Notes({ detail: d }: { detail: Detail }) {
  const me = useMe();
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [kind, setKind] = useState<Schema["NoteKind"]>(me.role === "student" ? "vise" : "service");
  const [words, setWords] = useState("");
  const kinds = me.role === "student" ? (["head", "vise"] as const) : (["head", "vise", "wear", "service"] as const);
  const send = () =>
    act(async () => {
      const fresh = await body(
        api.POST("/api/machines/{machine}/notes", {
          params: { path: { machine: d.machine.id } },
          body: { id: newId(), kind, words },
        }),
      );
      client.setQueryData(queries.machine(d.machine.id).queryKey, fresh);
      setWords("");
      void client.invalidateQueries({
        predicate: (q) => q.queryKey[0] === "setup-bench" || q.queryKey[0] === "job-card",
      });
    });
  return (
    <section className="card pad stack">
      <h2>{say("History")}</h2>
      {d.notes.length === 0 && (
        <p className="muted">{say("Nothing entered yet. Wear, service, and every move of head or vise will be listed here.")}</p>
      )}
      <ul className="machine-notes">
        {d.notes.map((n) => (
          <li key={n.at + n.kind}>
            <b className="head">{NOTES[n.kind]}</b> {n.words}{" "}
            <span className="small muted">
              {n.by}, {when(n.at)}
            </span>
          </li>
        ))}
      </ul>
      {me.role !== "auditor" && (
        <form
          className="row"
          onSubmit={(e) => {
            e.preventDefault();
            void send();
          }}
        >
          <Select
            showSearch={{ optionFilterProp: "label" }}
            className="note-kind"
            aria-label={say("What happened")}
            value={kind}
            onChange={(picked) => setKind(picked)}
            options={[...kinds.map((k) => ({ value: k, label: NOTES[k] }))]}
          />
          <Input
            className="grow"
            aria-label={say("What was done or seen")}
            value={words}
            maxLength={300}
            onChange={(e) => setWords(e.target.value)}
            required
          />
          <Button htmlType="submit" disabled={busy}>
            {say("Save note")}
          </Button>
        </form>
      )}
      <Refused words={error} />
    </section>
  );
}

function Change({ detail: d }: { detail: Detail }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [about, setAbout] = useState(d.about);
  const [file, setFile] = useState(d.file);
  const save = () =>
    act(async () => {
      const fresh = await body(api.PUT("/api/machines/{machine}", { params: { path: { machine: d.machine.id } }, body: { about, file } }));
      client.setQueryData(queries.machine(d.machine.id).queryKey, fresh);
      setFile(fresh.file);
      await client.invalidateQueries();
    });
  const unsaved = about !== d.about || file !== d.file;
  return (
    <Fold title={say("Change this entry")}>
      <div className="stack">
        <label className="asked">
          {say("In one line")}
          <Input value={about} maxLength={200} onChange={(e) => setAbout(e.target.value)} />
        </label>
        <label className="asked">
          {say("The entry, as JSON (docs/formats/machine.md says what each field means)")}
          <Input.TextArea className="machine-file" value={file} spellCheck={false} onChange={(e) => setFile(e.target.value)} rows={18} />
        </label>
        <Refused words={error} />
        <div className="row">
          <Button type="primary" disabled={busy || !unsaved} onClick={() => void save()}>
            {say("Save the entry")}
          </Button>
          {unsaved ? <span className="needs">{say("not saved")}</span> : <span className="small muted">{say("saved")}</span>}
        </div>
      </div>
    </Fold>
  );
}
