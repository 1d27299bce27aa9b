import { useQuery } from "@tanstack/react-query";
import { Button, Checkbox, Input, Segmented } from "antd";
import { useDeferredValue, useState } from "react";
import { Link } from "react-router";
import type { Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Lines } from "../../shared/Lines";
import { Waiting } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { say, sayMany } from "../../shared/say";
import { clock, day } from "../../shared/time";
import { Delegate } from "./Delegate";
import { Groups } from "./Groups";
import { AddPerson, ChangePerson, NewCode, Slip, TakeOut } from "./Person";
import { ROLES } from "./roles";
import "./people.css";

type Line = Schema["PersonLine"];
type Role = Schema["Role"];
type Open = { what: "add" } | { what: "change" | "code" | "data"; person: Line } | null;

/** Everybody: who is new, has left or is away, who may sign what; and the groups. */
export default function PeoplePage() {
  const me = useMe();
  const [find, setFind] = useState("");
  const [role, setRole] = useState<Role | "">("");
  const [left, setLeft] = useState(false);
  const [open, setOpen] = useState<Open>(null);
  const [slip, setSlip] = useState<Schema["CodeView"] | null>(null);
  const asked = { find: useDeferredValue(find.trim()), role: role || undefined, active: !left };
  const { data, error } = useQuery(queries.people(asked));
  const changes = me.role === "instructor";
  const close = () => setOpen(null);
  const made = (code: Schema["CodeView"]) => {
    setOpen(null);
    setSlip(code);
  };
  if (!data) return <Waiting error={error} />;
  return (
    <main className="page stack">
      <div className="between">
        <h1>{say("People")}</h1>
        <span className="row">
          <Link className="button" to="/class">
            {say("Import a class list")}
          </Link>
          {changes && (
            <Button type="primary" onClick={() => setOpen({ what: "add" })}>
              {say("Add a person")}
            </Button>
          )}
        </span>
      </div>
      {data.never_in > 0 && (
        <p className="caution">
          {sayMany(
            "{count} person has not signed in yet. If their code has expired, make a new one.",
            "{count} people have not signed in yet. If their code has expired, make a new one.",
            data.never_in,
          )}
        </p>
      )}
      <section className="card stack">
        <div className="row wraps pad">
          <Input.Search
            className="people-find"
            allowClear
            aria-label={say("Find by name")}
            placeholder={say("Find by name")}
            value={find}
            maxLength={80}
            onChange={(e) => setFind(e.target.value)}
          />
          <Segmented<Role | "">
            aria-label={say("Role")}
            value={role}
            onChange={setRole}
            options={[{ value: "", label: say("Everybody") }, ...ROLES.map((r) => ({ value: r.role, label: r.many }))]}
          />
          <Checkbox checked={left} onChange={(e) => setLeft(e.target.checked)}>
            {say("has left or is away")}
          </Checkbox>
        </div>
        <Lines
          searched
          rows={data.people}
          rowKey={(p) => p.person.id}
          columns={[
            { key: "name", title: say("Name"), render: (_, p) => <b>{p.person.name}</b> },
            { key: "login", title: say("Signs in as"), render: (_, p) => p.login },
            { key: "role", title: say("Role"), render: (_, p) => ROLES.find((r) => r.role === p.role)?.one },
            { key: "group", title: say("Group"), render: (_, p) => p.group?.name },
            { key: "in", title: say("Last sign-in"), render: (_, p) => <LastIn of={p} /> },
            {
              key: "do",
              title: "",
              className: "num",
              render: (_, p) =>
                p.why_not ? (
                  <span className="small muted">{changes && p.person.id !== me.id && say("can only be changed by them")}</span>
                ) : (
                  <span className="row">
                    {p.active && (
                      <Button aria-label={say("New code for {name}", { name: p.person.name })} onClick={() => setOpen({ what: "code", person: p })}>
                        {say("New code")}
                      </Button>
                    )}
                    <Button aria-label={say("Data of {name}", { name: p.person.name })} onClick={() => setOpen({ what: "data", person: p })}>
                      {say("Data")}
                    </Button>
                    <Button aria-label={say("Change {name}", { name: p.person.name })} onClick={() => setOpen({ what: "change", person: p })}>
                      {say("Change")}
                    </Button>
                  </span>
                ),
            },
          ]}
        />
        {data.people.length === 0 && <p className="pad muted">{say("Nobody found.")}</p>}
        {data.more && <p className="pad small muted">{say("There are more: type a part of the name.")}</p>}
      </section>
      <Groups groups={data.groups} changes={changes} />
      <Assistants />
      {open?.what === "add" && <AddPerson groups={data.groups} onClose={close} onMade={made} />}
      {open?.what === "change" && <ChangePerson person={open.person} groups={data.groups} onClose={close} />}
      {open?.what === "code" && <NewCode person={open.person} onClose={close} onMade={made} />}
      {open?.what === "data" && <TakeOut person={open.person} onClose={close} />}
      {slip && <Slip slip={slip} onClose={() => setSlip(null)} />}
    </main>
  );
}

function LastIn({ of: p }: { of: Line }) {
  if (p.code_until) {
    return <span className="is-brass">{say("code until {day}, {time}", { day: day(p.code_until), time: clock(p.code_until) })}</span>;
  }
  if (!p.joined) return <span className="needs">{say("never; no valid code")}</span>;
  return <>{p.last_sign_in ? day(p.last_sign_in) : <span className="muted">{say("not recorded")}</span>}</>;
}

/** What each assistant may sign. */
function Assistants() {
  const me = useMe();
  const { data } = useQuery(queries.shop());
  if (!data || data.assistants.length === 0) return null;
  return (
    <section className="card">
      <h2 className="pad">{say("Assistants sign only")}</h2>
      <Lines
        rows={data.assistants}
        rowKey={(a) => a.person.id}
        showHeader={false}
        columns={[
          { key: "0", title: "", render: (_, a) => <b className="head">{a.person.name}</b> },
          {
            key: "1",
            title: "",
            render: (_, a) => (
              <>
                {a.skills.map((s) => s.name).join(", ") || say("nothing yet")}
                {me.role === "instructor" && <Delegate assistant={a} delegable={data.delegable} />}
              </>
            ),
          },
        ]}
      />
    </section>
  );
}
