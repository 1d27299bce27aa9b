import { useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { Dialog } from "../../shared/Dialog";
import { Lines } from "../../shared/Lines";
import { say, sayMany } from "../../shared/say";
import { day } from "../../shared/time";
import { useAct } from "../../shared/useAct";
import { EntryForm } from "../../shared/EntryForm";

type Group = Schema["GroupLine"];

/** The groups and their terms. */
export function Groups({ groups, changes }: { groups: readonly Group[]; changes: boolean }) {
  const [open, setOpen] = useState<Group | "new" | null>(null);
  return (
    <section className="card">
      <div className="between pad">
        <h2>{say("Groups")}</h2>
        {changes && <Button onClick={() => setOpen("new")}>{say("Add a group")}</Button>}
      </div>
      <Lines
        rows={groups}
        rowKey={(g) => g.id}
        columns={[
          { key: "name", title: say("Group"), render: (_, g) => <b>{g.name}</b> },
          { key: "term", title: say("Term"), render: (_, g) => <Term of={g} /> },
          { key: "students", title: say("Students"), className: "num", render: (_, g) => g.students },
          {
            key: "do",
            title: "",
            className: "num",
            render: (_, g) => (
              <span className="row">
                <Link className="button" to={`/group/${g.id}`} aria-label={say("Term of {name}", { name: g.name })}>
                  {say("Term")}
                </Link>
                <a className="button" href={`/api/groups/${g.id}/results.xlsx`} download aria-label={say("Results of {name}", { name: g.name })}>
                  {say("Results")}
                </a>
                {changes && (
                  <Button aria-label={say("Change {name}", { name: g.name })} onClick={() => setOpen(g)}>
                    {say("Change")}
                  </Button>
                )}
              </span>
            ),
          },
        ]}
      />
      {groups.length === 0 && <p className="pad muted">{say("No group yet: a session is opened for a group.")}</p>}
      {open && <GroupDialog group={open === "new" ? null : open} onClose={() => setOpen(null)} />}
    </section>
  );
}

function Term({ of: g }: { of: Group }) {
  if (g.over) return <span className="muted">{say("ended {day}", { day: day(g.ends ?? "") })}</span>;
  if (g.begins && g.ends) return <>{say("{begins} to {ends}", { begins: day(g.begins), ends: day(g.ends) })}</>;
  if (g.begins) return <>{say("from {begins}", { begins: day(g.begins) })}</>;
  if (g.ends) return <>{say("until {ends}", { ends: day(g.ends) })}</>;
  return <span className="muted">{say("without an end")}</span>;
}

function GroupDialog({ group, onClose }: { group: Group | null; onClose: () => void }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [id] = useState(newId);
  const [name, setName] = useState(group?.name ?? "");
  const [begins, setBegins] = useState(group?.begins ?? "");
  const [ends, setEnds] = useState(group?.ends ?? "");
  const save = () =>
    act(async () => {
      const term = { name, begins: begins || null, ends: ends || null };
      await body(
        group
          ? api.PUT("/api/groups/{group}", { params: { path: { group: group.id } }, body: term })
          : api.POST("/api/groups", { body: { id, ...term } }),
      );
      await client.invalidateQueries();
      onClose();
    });
  return (
    <Dialog title={group ? say("Change {name}", { name: group.name }) : say("Add a group")} onClose={onClose}>
      <EntryForm onSend={save} yes={say("Save")} refused={error} busy={busy} ready={name.trim().length >= 2}>
        <label className="asked">
          {say("Name of the group")}
          <Input autoFocus maxLength={60} value={name} onChange={(e) => setName(e.target.value)} />
        </label>
        <div className="row">
          <label className="asked grow">
            {say("First day")}
            <Input type="date" value={begins} onChange={(e) => setBegins(e.target.value)} />
          </label>
          <label className="asked grow">
            {say("Last day")}
            <Input type="date" value={ends} onChange={(e) => setEnds(e.target.value)} />
          </label>
        </div>
        <p className="small muted">
          {group
            ? sayMany(
                "After its last day {count} student is in no group; what they did stays.",
                "After its last day {count} students are in no group; what they did stays.",
                group.students,
              )
            : say("Without dates it has no end.")}
        </p>
      </EntryForm>
    </Dialog>
  );
}
