import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Input, Segmented, Select } from "antd";
import { useState } from "react";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Dialog } from "../../shared/Dialog";
import { PinDialog } from "../../shared/PinDialog";
import { download } from "../../shared/download";
import { savePaper } from "../../shared/ownPaper";
import { PAPERS } from "../../shared/papers";
import { useMe } from "../../shared/me";
import { say } from "../../shared/say";
import { day } from "../../shared/time";
import { Slips, SlipSteps, slipEnds } from "../people/Slips";
import { ROLES } from "./roles";

type Line = Schema["PersonLine"];
type Group = Schema["GroupLine"];
type Role = Schema["Role"];
type Code = Schema["CodeView"];

const inTerm = (groups: readonly Group[]) => groups.filter((g) => !g.over).map((g) => ({ value: g.id, label: g.name }));

/** Somebody new: what they are called, what they do here; at the end stands a slip with their code. */
export function AddPerson({ groups, onClose, onMade }: { groups: readonly Group[]; onClose: () => void; onMade: (code: Code) => void }) {
  const client = useQueryClient();
  const [id] = useState(newId);
  const [name, setName] = useState("");
  const [login, setLogin] = useState("");
  const [role, setRole] = useState<Role>("student");
  const [group, setGroup] = useState<string>();
  return (
    <PinDialog
      title={say("Add a person")}
      act={say("Make a code")}
      onClose={onClose}
      onAct={async (pin) => {
        const command = { id, name, login, role, group: role === "student" ? (group ?? null) : null, pin };
        const made = await body(api.POST("/api/people", { body: command }));
        await client.invalidateQueries();
        onMade(made);
      }}
    >
      <label className="asked">
        {say("Name, as it stands on records")}
        <Input maxLength={80} autoFocus value={name} onChange={(e) => setName(e.target.value)} />
      </label>
      <label className="asked">
        {say("Signs in as; empty: made from the name")}
        <Input maxLength={60} value={login} onChange={(e) => setLogin(e.target.value)} />
      </label>
      <Does role={role} onChange={setRole} />
      {role === "student" && <InGroup group={group} groups={groups} onChange={setGroup} />}
      <p className="small muted">{say("A slip with a code comes next. With it they choose a password of their own.")}</p>
    </PinDialog>
  );
}

/** What is changed of somebody, and what was changed before. */
export function ChangePerson({ person: p, groups, onClose }: { person: Line; groups: readonly Group[]; onClose: () => void }) {
  const me = useMe();
  const client = useQueryClient();
  const { data: past } = useQuery(queries.personActs(p.person.id));
  const [name, setName] = useState(p.person.name);
  const [role, setRole] = useState<Role>(p.role);
  const [group, setGroup] = useState<string | undefined>(p.group?.id);
  const [active, setActive] = useState(p.active);
  const own = p.person.id === me.id;
  return (
    <PinDialog
      title={say("Change {name}", { name: p.person.name })}
      act={say("Save")}
      onClose={onClose}
      onAct={async (pin) => {
        const command = { name, role, group: role === "student" && active ? (group ?? null) : null, active, pin };
        await body(api.PUT("/api/people/{person}", { params: { path: { person: p.person.id } }, body: command }));
        await client.invalidateQueries();
      }}
    >
      <label className="asked">
        {say("Name, as it stands on records")}
        <Input maxLength={80} value={name} onChange={(e) => setName(e.target.value)} />
      </label>
      {!own && <Does role={role} onChange={setRole} />}
      {role !== p.role && (
        <p className="caution">{say("They are signed out everywhere. Who confirms acts needs a new code, to choose password and PIN.")}</p>
      )}
      {role === "student" && active && <InGroup group={group} groups={groups} onChange={setGroup} />}
      {!own && (
        <Checkbox checked={active} onChange={(e) => setActive(e.target.checked)}>
          {say("works here now")}
        </Checkbox>
      )}
      {!active && p.active && (
        <p className="caution">{say("They are signed out everywhere and cannot come in. What they did stays; they can come back.")}</p>
      )}
      {past && past.acts.length > 0 && (
        <ul className="points small muted">
          {past.acts.map((a) => (
            <li key={a.at}>
              {a.words} {say("{by}, {day}", { by: a.by, day: day(a.at) })}
            </li>
          ))}
        </ul>
      )}
    </PinDialog>
  );
}

/** A new code: for the first time, or because a password was forgotten. */
export function NewCode({ person: p, onClose, onMade }: { person: Line; onClose: () => void; onMade: (code: Code) => void }) {
  const client = useQueryClient();
  return (
    <PinDialog
      title={say("New code for {name}", { name: p.person.name })}
      act={say("Make a code")}
      onClose={onClose}
      onAct={async (pin) => {
        const made = await body(api.POST("/api/people/{person}/codes", { params: { path: { person: p.person.id } }, body: { pin } }));
        await client.invalidateQueries();
        onMade(made);
      }}
    >
      <p>
        {p.joined
          ? say("Only for somebody who is here in person: with the code they choose a new password. The old one works until then.")
          : say("The code before is no longer valid. With the new one they choose a password.")}
      </p>
    </PinDialog>
  );
}

/** Everything that is kept of somebody, given to them as a file. */
export function TakeOut({ person: p, onClose }: { person: Line; onClose: () => void }) {
  const client = useQueryClient();
  const [as, setAs] = useState<"file" | (typeof PAPERS)[number]>("file");
  return (
    <PinDialog
      title={say("Data of {name}", { name: p.person.name })}
      act={say("Download")}
      onClose={onClose}
      onAct={async (pin) => {
        if (as === "file") {
          const found = await body(api.POST("/api/people/{person}/data", { params: { path: { person: p.person.id } }, body: { pin } }));
          download(`incudo-${p.login}`, found);
        } else await savePaper(p.person.id, p.login, as, pin);
        await client.invalidateQueries();
      }}
    >
      <Segmented
        aria-label={say("As what")}
        value={as}
        onChange={setAs}
        options={[
          { value: "file" as const, label: say("A file, JSON") },
          ...PAPERS.map((x) => ({ value: x, label: say("To read, {paper}", { paper: x }) })),
        ]}
      />
      <p>
        {say(
          "Everything that is kept under this name, for them and nobody else. That you took it out is kept. What was read on a part that is not decided yet is left out, so that its check stays blind.",
        )}
      </p>
    </PinDialog>
  );
}

/** The slip: shown once, to be printed or copied by hand. */
export function Slip({ slip: s, onClose }: { slip: Code; onClose: () => void }) {
  return (
    <Dialog title={say("For {name}, shown this once", { name: s.person.name })} onClose={onClose}>
      <div className="stack" role="status">
        <p className="key" translate="no">
          {s.code}
        </p>
        <SlipSteps login={s.login} />
        <p className="small muted">{slipEnds(s.ends_at)}</p>
        <Slips slips={[{ name: s.person.name, login: s.login, code: s.code, until: s.ends_at }]} />
        <div className="row no-print">
          <Button size="large" className="grow" onClick={() => window.print()}>
            {say("Print the slip")}
          </Button>
          <Button size="large" type="primary" className="grow" onClick={onClose}>
            {say("Done")}
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

function Does({ role, onChange }: { role: Role; onChange: (role: Role) => void }) {
  return (
    <label className="asked">
      {say("What they do here")}
      <Select value={role} onChange={onChange} options={ROLES.map((r) => ({ value: r.role, label: r.one }))} />
      <span className="small muted">{ROLES.find((r) => r.role === role)?.words}</span>
    </label>
  );
}

function InGroup(p: { group: string | undefined; groups: readonly Group[]; onChange: (group: string | undefined) => void }) {
  return (
    <label className="asked">
      {say("Group")}
      <Select allowClear value={p.group} onChange={(g: string | undefined) => p.onChange(g)} options={inTerm(p.groups)} />
    </label>
  );
}
