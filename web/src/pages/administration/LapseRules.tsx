import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useState } from "react";
import { api, body, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Waiting } from "../../shared/Loading";
import { say, sayMany } from "../../shared/say";
import { useAct } from "../../shared/useAct";
import { Refused } from "../../shared/Refused";
import "./people.css";

type Line = Schema["LapseLine"];
type Days = { after_days: number | null; absence_days: number | null };

/** How long sign-offs hold; a change is looked at before it is saved. */
export function LapseRules({ mayChange }: { mayChange: boolean }) {
  const client = useQueryClient();
  const { data, error: missing } = useQuery(queries.lapses());
  const { act, error, busy } = useAct();
  const [draft, setDraft] = useState<Record<string, Days>>({});
  const [added, setAdded] = useState<string[]>([]);
  const [seen, setSeen] = useState<Record<string, Line> | null>(null);
  if (!data) return <Waiting error={missing} />;
  const changes = data.lines
    .filter((x) => {
      const d = draft[x.skill];
      return d !== undefined && (d.after_days !== x.after_days || d.absence_days !== x.absence_days);
    })
    .map((x) => ({ skill: x.skill, ...(draft[x.skill] ?? x) }));
  const sent = { number: data.number, changes: changes.map((c) => ({ skill: c.skill, after_days: c.after_days, absence_days: c.absence_days })) };
  const look = () =>
    act(async () => {
      const found = await body(api.POST("/api/lapses/look", { body: sent }));
      setSeen(Object.fromEntries(found.lines.map((x) => [x.skill, x])));
    });
  const save = () =>
    act(async () => {
      client.setQueryData(queries.lapses().queryKey, await body(api.PUT("/api/lapses", { body: sent })));
      setDraft({});
      setSeen(null);
      await client.invalidateQueries();
    });
  const change = (x: Line, field: keyof Days, text: string) => {
    setSeen(null);
    const days = text ? Number(text.replace(/\D/g, "")) : null;
    setDraft({ ...draft, [x.skill]: { after_days: x.after_days, absence_days: x.absence_days, ...draft[x.skill], [field]: days } });
  };
  const shown = data.lines.filter((x) => x.after_days !== null || x.absence_days !== null || added.includes(x.skill));
  const field = (x: Line, name: keyof Days, label: string) => (
    <Input
      aria-label={`${x.name}: ${label}`}
      inputMode="numeric"
      maxLength={4}
      disabled={!mayChange}
      value={(draft[x.skill] ?? x)[name] ?? ""}
      onChange={(e) => change(x, name, e.target.value)}
    />
  );
  return (
    <section className="card pad stack" id="lapses">
      <h2>{say("How long a sign-off holds")}</h2>
      <p>
        {say(
          "After these days the skill lapses: the student asks for a refresher, and until then works only with an assessor beside them. Days away count from the last session they were in. Empty: it does not lapse.",
        )}
      </p>
      <div className="lapse-rules">
        <span />
        <b className="small">{say("days after it was signed")}</b>
        <b className="small">{say("days away from the shop")}</b>
        <span />
        {shown.map((x) => (
          <Row key={x.skill} line={x} effect={seen?.[x.skill]}>
            {field(x, "after_days", say("days after it was signed"))}
            {field(x, "absence_days", say("days away from the shop"))}
          </Row>
        ))}
      </div>
      {mayChange && (
        <div className="row">
          <Select
            className="lapse-add"
            aria-label={say("Another skill")}
            placeholder={say("Another skill")}
            showSearch={{ optionFilterProp: "label" }}
            value={null}
            onChange={(s: string | null) => s && setAdded([...added, s])}
            options={data.lines.filter((x) => !shown.includes(x)).map((x) => ({ value: x.skill, label: x.name }))}
          />
          <span className="grow" />
          <Button disabled={busy || changes.length === 0} onClick={() => void look()}>
            {say("See who it affects today")}
          </Button>
          <Button type="primary" disabled={busy || changes.length === 0 || seen === null} onClick={() => void save()}>
            {say("Save")}
          </Button>
        </div>
      )}
      <Refused words={error} />
    </section>
  );
}

function Row({ line, effect, children }: { line: Line; effect: Line | undefined; children: React.ReactNode }) {
  return (
    <>
      <span>{line.name}</span>
      {children}
      <span className={effect?.lapsing ? "small needs" : "small muted"}>
        {effect &&
          effect.holders > 0 &&
          sayMany("{lapsing} of {count} who holds it lapses today", "{lapsing} of {count} who hold it lapse today", effect.holders, {
            lapsing: effect.lapsing,
          })}
      </span>
    </>
  );
}
