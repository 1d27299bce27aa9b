import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Dialog } from "../../shared/Dialog";
import { Lines } from "../../shared/Lines";
import { say } from "../../shared/say";
import { dayOfYear } from "../../shared/time";
import { useAct } from "../../shared/useAct";
import { EntryForm } from "../../shared/EntryForm";

/** The repeated-readings studies that concern one; of one gauge, with the way to begin one. */
export function Studies({ gauge = "" }: { gauge?: string }) {
  const { data } = useQuery(queries.studies(gauge));
  const [beginning, setBeginning] = useState(false);
  if (!data || (data.studies.length === 0 && !(gauge && data.bounds))) return null;
  return (
    <section className="card">
      <div className="between pad">
        <h2>{say("Repeated readings")}</h2>
        {gauge && data.bounds && data.bounds.groups.length > 0 && (
          <Button onClick={() => setBeginning(true)}>{say("Begin a study with a class")}</Button>
        )}
      </div>
      {data.studies.length === 0 ? (
        <p className="pad muted">
          {say(
            "Several people read the same parts several times, without seeing each other's values: that shows how much of the spread is the gauge, and how much the people.",
          )}
        </p>
      ) : (
        <Lines
          rows={data.studies}
          rowKey={(s) => s.id}
          showHeader={false}
          columns={[
            { key: "what", title: "", render: (_, s) => <Link to={`/study/${s.id}`}>{s.what}</Link> },
            {
              key: "gauge",
              title: "",
              className: "small muted",
              render: (_, s) => say("{gauge}; {group}, {day}", { gauge: s.gauge, group: s.group, day: dayOfYear(s.at) }),
            },
            {
              key: "state",
              title: "",
              className: "num",
              render: (_, s) => (s.ended ? say("ended") : say("you: {done} of {turns}", { done: s.done, turns: s.turns })),
            },
          ]}
        />
      )}
      {beginning && data.bounds && <BeginStudy gauge={gauge} bounds={data.bounds} onClose={() => setBeginning(false)} />}
    </section>
  );
}

function BeginStudy({ gauge, bounds, onClose }: { gauge: string; bounds: Schema["StudyBounds"]; onClose: () => void }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { act, error, busy } = useAct();
  const [id] = useState(newId);
  const [what, setWhat] = useState("");
  const [group, setGroup] = useState(bounds.groups[0]?.id ?? "");
  const [parts, setParts] = useState(bounds.parts[0] ?? 0);
  const [repeats, setRepeats] = useState(bounds.repeats[0] ?? 0);
  const [width, setWidth] = useState("");
  const begin = () =>
    act(async () => {
      const made = await body(api.POST("/api/studies", { body: { id, instrument: gauge, group, what, parts, repeats, width } }));
      client.setQueryData(queries.study(made.id).queryKey, made);
      await client.invalidateQueries({ queryKey: ["studies"] });
      void navigate(`/study/${made.id}`);
    });
  const counts = (all: readonly number[]) => all.toSorted((a, b) => a - b).map((n) => ({ value: n, label: String(n) }));
  return (
    <Dialog title={say("Repeated readings with a class")} onClose={onClose}>
      <EntryForm onSend={begin} yes={say("Begin")} refused={error} busy={busy} ready={what.trim().length >= 3}>
        <label className="asked">
          {say("What is measured, on which parts")}
          <Input
            autoFocus
            maxLength={80}
            placeholder={say("Thickness of the marked blanks, at the scribed cross")}
            value={what}
            onChange={(e) => setWhat(e.target.value)}
          />
        </label>
        <div className="row">
          <label className="asked grow">
            {say("Group")}
            <Select value={group} onChange={setGroup} options={bounds.groups.map((g) => ({ value: g.id, label: g.name }))} />
          </label>
          <label className="asked">
            {say("Parts")}
            <Select value={parts} onChange={setParts} options={counts(bounds.parts)} />
          </label>
          <label className="asked">
            {say("Readings of each")}
            <Select value={repeats} onChange={setRepeats} options={counts(bounds.repeats)} />
          </label>
        </div>
        <label className="asked">
          {say("Width of the limits it is used for, in the gauge's unit; may stay empty")}
          <Input inputMode="decimal" maxLength={20} value={width} onChange={(e) => setWidth(e.target.value)} />
        </label>
        <p className="small muted">
          {say("Mark the parts with numbers, and mark the place to measure. Choose parts that differ as much as parts do.")}
        </p>
      </EntryForm>
    </Dialog>
  );
}
