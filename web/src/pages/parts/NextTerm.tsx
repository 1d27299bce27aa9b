import { useQueryClient } from "@tanstack/react-query";
import { Input, Select } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { PinDialog } from "../../shared/PinDialog";
import { say, sayMany } from "../../shared/say";

type Term = Schema["TermPage"];
type Fate = "on" | "stays" | "left";

/** Ends a group's term and begins the next one with the same parts. */
export function NextTerm({ term, onClose }: { term: Term; onClose: () => void }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [id] = useState(newId);
  const [name, setName] = useState("");
  const [until, setUntil] = useState(term.ends ?? "");
  const [begins, setBegins] = useState("");
  const [ends, setEnds] = useState("");
  const [fates, setFates] = useState<Record<string, Fate>>({});
  const of = (fate: Fate) => term.students.filter((s) => (fates[s.student.id] ?? "stays") === fate).map((s) => s.student.id);
  const begin = async (pin: string) => {
    const found = await body(
      api.POST("/api/groups/{group}/next-term", {
        params: { path: { group: term.group.id } },
        body: { id, name, begins: begins || null, ends: ends || null, until, go_on: of("on"), leave: of("left"), pin },
      }),
    );
    await client.invalidateQueries();
    void navigate(`/group/${found.group.id}`);
  };
  return (
    <PinDialog title={say("The term after {name}", { name: term.group.name })} act={say("Begin it")} onAct={begin} onClose={onClose}>
      <label className="asked">
        {say("Name of the new group")}
        <Input autoFocus maxLength={60} value={name} onChange={(e) => setName(e.target.value)} />
      </label>
      <div className="row term-days">
        <label className="asked grow">
          {say("Last day of {name}", { name: term.group.name })}
          <Input type="date" value={until} onChange={(e) => setUntil(e.target.value)} />
        </label>
        <label className="asked grow">
          {say("First day of the new term")}
          <Input type="date" value={begins} onChange={(e) => setBegins(e.target.value)} />
        </label>
        <label className="asked grow">
          {say("Its last day")}
          <Input type="date" value={ends} onChange={(e) => setEnds(e.target.value)} />
        </label>
      </div>
      <p className="small muted">
        {sayMany("The new group makes the same part.", "The new group makes the same {count} parts.", term.parts.length)}{" "}
        {say("Everything of the old one stays: its results, job cards and records.")}
      </p>
      {term.students.length > 0 && (
        <div className="term-fates">
          <FateOf
            name={say("Everybody")}
            fate={null}
            onFate={(fate) => setFates(Object.fromEntries(term.students.map((s) => [s.student.id, fate])))}
          />
          {term.students.map((s) => (
            <FateOf
              key={s.student.id}
              name={s.student.name}
              fate={fates[s.student.id] ?? "stays"}
              onFate={(fate) => setFates({ ...fates, [s.student.id]: fate })}
            />
          ))}
        </div>
      )}
    </PinDialog>
  );
}

function FateOf({ name, fate, onFate }: { name: string; fate: Fate | null; onFate: (fate: Fate) => void }) {
  return (
    <label className="row">
      <span className="grow">{name}</span>
      <Select
        aria-label={say("What {name} does", { name })}
        value={fate}
        onChange={onFate}
        options={[
          { value: "stays" as const, label: say("is in no group after it") },
          { value: "on" as const, label: say("goes on in the new group") },
          { value: "left" as const, label: say("has left the shop") },
        ]}
      />
    </label>
  );
}
