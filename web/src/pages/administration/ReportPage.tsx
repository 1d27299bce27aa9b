import { Button, Checkbox, Input, Select } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Loading } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import { when } from "../../shared/time";
import { PinDialog } from "../../shared/PinDialog";
import "./report.css";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Tag = Schema["TagView"];

/** Something is wrong: hang a tag on it, or write down what nearly happened. */
export default function ReportPage() {
  const { data, error } = useQuery(queries.tags());
  const [params] = useSearchParams();
  const me = useMe();
  if (!data) return <Loading error={error} />;
  const mayWrite = me.role !== "auditor";
  return (
    <main className="page report">
      <h1>{say("Something is wrong")}</h1>
      <p className="caution">
        <Rich
          text={
            "<b>A fault that nobody closes hurts the next one.</b> Stop at the machine first, then hang the tag here. Somebody hurt: the machine's own stop, then call for help; Incudo comes last."
          }
          with={{ b: <b /> }}
        />
      </p>
      <div className="report-columns">
        {mayWrite && <HangTag machines={data.machines} instruments={data.instruments} first={params.get("machine") ?? ""} />}
        {mayWrite && <NearMiss machines={data.machines} />}
      </div>
      <section className="card pad stack">
        <h2>{say("Tags in force")}</h2>
        {data.tags.length === 0 && (
          <p className="muted">{say("Nothing is closed. A tag closes a machine or a gauge for everybody until an instructor clears it.")}</p>
        )}
        {data.tags.map((t) => (
          <TagLine key={t.id} tag={t} mayClear={me.role === "instructor"} />
        ))}
      </section>
    </main>
  );
}

function HangTag({ machines, instruments, first }: { machines: readonly Schema["Named"][]; instruments: readonly Schema["Named"][]; first: string }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [id, setId] = useState(newId);
  const [what, setWhat] = useState(first);
  const [note, setNote] = useState("");
  const machine = machines.find((m) => m.id === what);
  const hang = () =>
    act(async () => {
      const fresh = await body(
        api.POST("/api/tags", {
          body: { id, note, machine: machine ? what : null, instrument: machine ? null : what, cutter: null },
        }),
      );
      client.setQueryData(queries.tags().queryKey, fresh);
      setId(newId());
      setNote("");
      await client.invalidateQueries();
    });
  return (
    <section className="card pad stack">
      <h2>{say("Hang a tag")}</h2>
      <label className="asked">
        {say("On what")}
        <Select
          value={what || undefined}
          placeholder={say("choose")}
          showSearch={{ optionFilterProp: "label" }}
          onChange={setWhat}
          options={[
            { label: say("Machines"), options: machines.map((m) => ({ value: m.id, label: m.name })) },
            { label: say("Gauges"), options: instruments.map((m) => ({ value: m.id, label: m.name })) },
          ]}
        />
      </label>
      <label className="asked">
        {say("What is wrong with it")}
        <Input.TextArea rows={3} maxLength={400} value={note} onChange={(e) => setNote(e.target.value)} />
      </label>
      <Refused words={error} />
      <Button size="large" danger disabled={busy || !what || note.trim().length < 3} onClick={() => void hang()}>
        {say("Close it for everybody")}
      </Button>
    </section>
  );
}

function NearMiss({ machines }: { machines: readonly Schema["Named"][] }) {
  const navigate = useNavigate();
  const me = useMe();
  const { act, error, busy } = useAct();
  const [id] = useState(newId);
  const [kind, setKind] = useState<Schema["IncidentKind"]>("near_miss");
  const [named, setNamed] = useState(true);
  const [form, setForm] = useState({ what: "", place: "", witness: "", done: "", machine: "" });
  const field = (name: keyof typeof form, label: string, rows = 1) => (
    <label className="asked">
      {label}
      <Input.TextArea
        rows={rows}
        maxLength={name === "what" ? 1000 : 200}
        value={form[name]}
        onChange={(e) => setForm({ ...form, [name]: e.target.value })}
      />
    </label>
  );
  const send = () =>
    act(async () => {
      await body(api.POST("/api/incidents", { body: { ...form, id, kind, machine: form.machine || null, with_name: named } }));
      void navigate(-1);
    });
  return (
    <section className="card pad stack">
      <h2>{say("Report what happened")}</h2>
      <div className="choices" role="radiogroup" aria-label={say("What it was")}>
        <Button role="radio" aria-checked={kind === "near_miss"} onClick={() => setKind("near_miss")}>
          {say("It nearly happened")}
        </Button>
        <Button
          role="radio"
          aria-checked={kind === "incident"}
          onClick={() => {
            setKind("incident");
            setNamed(true);
          }}
        >
          {say("It happened")}
        </Button>
      </div>
      {field("what", say("What"), 3)}
      <label className="asked">
        {say("At which machine")}
        <Select
          showSearch={{ optionFilterProp: "label" }}
          value={form.machine}
          onChange={(picked) => setForm({ ...form, machine: picked })}
          options={[{ value: "", label: "none" }, ...machines.map((m) => ({ value: m.id, label: m.name }))]}
        />
      </label>
      <div className="row">
        {field("witness", say("Who saw it"))}
        {field("done", say("What was done"))}
      </div>
      <Checkbox className="row" checked={!named} disabled={kind === "incident"} onChange={(e) => setNamed(!e.target.checked)}>
        {say("without my name ({name} is then not recorded)", { name: me.name })}
      </Checkbox>
      <Refused words={error} />
      <Button type="primary" size="large" disabled={busy || form.what.trim().length < 10} onClick={() => void send()}>
        {say("Save to the register")}
      </Button>
    </section>
  );
}

function TagLine({ tag, mayClear }: { tag: Tag; mayClear: boolean }) {
  const client = useQueryClient();
  const [asking, setAsking] = useState(false);
  const clear = async (pin: string, note: string) => {
    const fresh = await body(api.POST("/api/tags/{tag}/clear", { params: { path: { tag: tag.id } }, body: { note, pin } }));
    client.setQueryData(queries.tags().queryKey, fresh);
    await client.invalidateQueries();
  };
  return (
    <div className="row tag">
      <svg width="26" height="34" viewBox="0 0 26 34" aria-hidden="true">
        <path d="M3 9 13 2 23 9V32H3ZM13 7.5V9.5" fill="none" stroke="var(--bad)" strokeWidth="2.4" />
      </svg>
      <span className="grow">
        <b className="head">{tag.what}</b>
        <span>{tag.note}</span>
        <span className="small muted">
          {tag.by}, {when(tag.at)}
        </span>
      </span>
      {mayClear && <Button onClick={() => setAsking(true)}>{say("Clear the tag")}</Button>}
      {asking && (
        <PinDialog
          title={`Clear ${tag.what}`}
          act={say("It is safe again")}
          noteLabel={say("What was done about it")}
          noteNeeded
          onClose={() => setAsking(false)}
          onAct={clear}
        >
          <p>{tag.note}</p>
        </PinDialog>
      )}
    </div>
  );
}
