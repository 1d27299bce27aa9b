import { Button, Checkbox } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Loading } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import { when } from "../../shared/time";
import { PinDialog } from "../../shared/PinDialog";
import "./session.css";
import { Lines } from "../../shared/Lines";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Page = Schema["SessionPage"];
type Now = Schema["SessionView"];
type Presence = Schema["Presence"];

const PRESENCE: { id: Presence; word: string; shape: string }[] = [
  { id: "here", word: say("here"), shape: "M4 12 9 17 20 6" },
  { id: "late", word: say("late"), shape: "M12 3A9 9 0 1 1 11.9 3ZM12 7V12L16 14" },
  { id: "absent", word: say("away"), shape: "M6 6 18 18M18 6 6 18" },
  { id: "gone", word: say("left"), shape: "M4 12H18M12 6 18 12 12 18" },
];

/** A meeting of a group: opened, roll called, machines open, ended with cleaning and handing back. */
export default function SessionPage() {
  const { data, error } = useQuery(queries.session());
  if (!data) return <Loading error={error} />;
  return <main className="page session">{data.session ? <Open page={data} now={data.session} /> : <Closed page={data} />}</main>;
}

function useFresh() {
  const client = useQueryClient();
  return async (asked: Promise<Page>) => {
    client.setQueryData(queries.session().queryKey, await asked);
    await client.invalidateQueries({ queryKey: ["floor"] });
  };
}

function Closed({ page }: { page: Page }) {
  const me = useMe();
  const fresh = useFresh();
  const [group, setGroup] = useState(page.groups[0]?.group.id ?? "");
  const [machines, setMachines] = useState(() => page.machines.map((m) => m.id));
  const [asking, setAsking] = useState(false);
  const [id] = useState(newId);
  const plan = page.groups.find((g) => g.group.id === group);
  const open = (pin: string) => fresh(body(api.POST("/api/session", { body: { id, group, machines: [...machines], pin } })));
  return (
    <>
      <h1>{say("No session is open")}</h1>
      <p className="muted">{say("Nobody can start a machine now. A session names the group, who supervises and which machines are open.")}</p>
      <div className="session-columns">
        <section className="card pad stack">
          <h2>{say("Open a session")}</h2>
          <div className="choices" role="radiogroup" aria-label={say("Group")}>
            {page.groups.map((g) => (
              <Button key={g.group.id} role="radio" aria-checked={g.group.id === group} onClick={() => setGroup(g.group.id)}>
                {g.group.name} <span className="small">{g.students.length}</span>
              </Button>
            ))}
          </div>
          <h3>{say("Machines open")}</h3>
          <div className="choices">
            {page.machines.map((m) => (
              <Button
                key={m.id}

                aria-pressed={machines.includes(m.id)}
                onClick={() => setMachines(machines.includes(m.id) ? machines.filter((x) => x !== m.id) : [...machines, m.id])}
              >
                {m.name}
              </Button>
            ))}
          </div>
          {me.role === "instructor" ? (
            <Button type="primary" size="large" disabled={!group} onClick={() => setAsking(true)}>
              {say("Open, and supervise it myself")}
            </Button>
          ) : (
            <p className="muted">{say("An instructor opens the session.")}</p>
          )}
        </section>
        {plan && <LayOut plan={plan} />}
      </div>
      <Past past={page.past} />
      {asking && (
        <PinDialog
          title={say("Open a session of {name}", { name: plan?.group.name })}
          act={say("Open")}
          onClose={() => setAsking(false)}
          onAct={open}
        >
          <p>{say("You supervise it until you hand over or end it. A start needs you signed in to the session.")}</p>
        </PinDialog>
      )}
    </>
  );
}

function LayOut({ plan }: { plan: Schema["GroupPlan"] }) {
  return (
    <section className="card pad stack">
      <h2>{say("To lay out for {name}", { name: plan.group.name })}</h2>
      <Needed title={say("Stock to saw")} needed={plan.stock} none={say("Nobody of this group needs stock today.")} />
      <Needed title={say("Gauges")} needed={plan.gauges} none={say("No gauges are needed.")} />
      <Planned group={plan.group.id} />
    </section>
  );
}

/** What the plans of the group are cut and held with; what there is too little of stands first. */
function Planned({ group }: { group: string }) {
  const { data } = useQuery(queries.groupNeeds(group));
  if (!data || (data.needs.length === 0 && data.unplanned.length === 0)) return null;
  return (
    <>
      <h3>{say("Cutters and workholding, by the plans")}</h3>
      <Lines
        rows={data.needs}
        rowKey={(n) => n.need.what + n.need.name}
        showHeader={false}
        columns={[
          { key: "0", title: "", width: 44, className: "num head", render: (_, n) => n.need.wanted },
          {
            key: "1",
            title: "",
            render: (_, n) => (
              <>
                {n.need.name}
                {n.need.place && <span className="small muted"> · {n.need.place}</span>}
                <div className="small muted">{n.people.join(", ")}</div>
                {n.need.short && <b className="small bad-words">{n.need.why_not || say("only {count} in the crib", { count: n.need.left })}</b>}
              </>
            ),
          },
        ]}
      />
      {data.unplanned.length > 0 && <p className="small muted">{say("No plan yet: {names}", { names: data.unplanned.join(", ") })}</p>}
    </>
  );
}

function Needed({ title, needed, none }: { title: string; needed: readonly Schema["NeededView"][]; none: string }) {
  return (
    <>
      <h3>{title}</h3>
      {needed.length === 0 && <p className="muted small">{none}</p>}
      <Lines
        rows={needed}
        rowKey={(n) => n.what}
        showHeader={false}
        columns={[
          { key: "0", title: "", className: "num head", render: (_, n) => n.people.length },
          {
            key: "1",
            title: "",
            render: (_, n) => (
              <>
                {n.what}
                <div className="small muted">{n.people.join(", ")}</div>
              </>
            ),
          },
        ]}
      />
    </>
  );
}

function Open({ page, now }: { page: Page; now: Now }) {
  const me = useMe();
  const fresh = useFresh();
  const { act, error, busy } = useAct();
  const [asking, setAsking] = useState<"supervise" | "leave" | "end" | null>(null);
  const [back, setBack] = useState<readonly string[]>([]);
  const mine = now.supervisors.some((s) => s.id === me.id);
  const instructor = me.role === "instructor";
  const plan = page.groups.find((g) => g.group.id === now.group.id);
  const called = now.roll.filter((r) => r.presence).length;
  const here = now.roll.filter((r) => r.presence === "here" || r.presence === "late").length;

  const mark = (students: readonly string[], presence: Presence) =>
    act(() =>
      fresh(
        body(
          api.POST("/api/session/roll", {
            body: { id: newId(), marks: students.map((student) => ({ student, presence })) },
          }),
        ),
      ),
    );
  const setOpen = (machine: string, open: boolean) =>
    act(() => fresh(body(api.POST("/api/session/machines", { body: { id: newId(), machine, open } }))));
  const duties = () => act(() => fresh(body(api.POST("/api/session/duties"))));
  const supervise = (on: boolean) => (pin: string) => fresh(body(api.POST("/api/session/supervision", { body: { id: newId(), on, pin } })));
  const end = (pin: string) => fresh(body(api.POST("/api/session/end", { body: { id: now.id, handed_back: [...back], pin } })));

  return (
    <>
      <div className="between">
        <div>
          <h1>{now.group.name}</h1>
          <p className="muted">
            <Rich
              text={"open since {opened_at} · {here} of {count} here · supervised by <b>{listed}</b>"}
              values={{
                opened_at: when(now.opened_at),
                here,
                count: now.roll.length,
                listed: now.supervisors.map((s) => s.name).join(", ") || say("nobody: no start is enabled"),
              }}
              with={{ b: <b className={now.supervisors.length ? "" : "needs"} /> }}
            />
          </p>
        </div>
        {instructor && (
          <div className="row">
            <Button onClick={() => setAsking(mine ? "leave" : "supervise")}>{mine ? say("Leave the supervision") : say("I supervise too")}</Button>
            <Button danger onClick={() => setAsking("end")}>
              {say("End the session")}
            </Button>
          </div>
        )}
      </div>
      <Refused words={error} />
      <div className="session-columns">
        <section className="card pad stack">
          <div className="between">
            <h2>{say("Roll")}</h2>
            {called < now.roll.length && me.role !== "auditor" && (
              <Button
                disabled={busy}
                onClick={() =>
                  void mark(
                    now.roll.filter((r) => !r.presence).map((r) => r.student.id),
                    "here",
                  )
                }
              >
                {say("The other {count} are here", { count: now.roll.length - called })}
              </Button>
            )}
          </div>
          <ul className="roll">
            {now.roll.map((r) => (
              <li key={r.student.id} data-presence={r.presence ?? "open"}>
                <Link to={`/skills/${r.student.id}`} className="grow">
                  {r.student.name}
                </Link>
                {PRESENCE.map((p) => (
                  <button
                    key={p.id}
                    className="presence"
                    aria-pressed={r.presence === p.id}
                    aria-label={`${r.student.name}: ${p.word}`}
                    disabled={busy || me.role === "auditor"}
                    onClick={() => void mark([r.student.id], p.id)}
                  >
                    <svg width="20" height="20" viewBox="0 0 24 24" aria-hidden="true">
                      <path d={p.shape} fill="none" stroke="currentColor" strokeWidth="2.4" />
                    </svg>
                    {p.word}
                  </button>
                ))}
              </li>
            ))}
          </ul>
        </section>
        <div className="stack">
          <section className="card pad stack">
            <h2>{say("Machines")}</h2>
            <ul className="session-machines">
              {now.machines.map((m) => (
                <li key={m.machine.id}>
                  <Link to={`/start/${m.machine.id}`} className="head">
                    {m.machine.name}
                  </Link>
                  <span className="grow small">
                    {m.tagged_out ? (
                      <span className="needs">{say("tagged out: {tagged_out}", { tagged_out: m.tagged_out })}</span>
                    ) : m.running ? (
                      <b className="is-good">{say("started:")}</b>
                    ) : (
                      ""
                    )}{" "}
                    {m.people.map((p) => (p.id === m.handles ? say("{name} at the handles", { name: p.name }) : p.name)).join(", ") || (
                      <span className="muted">{say("nobody at the machine")}</span>
                    )}
                  </span>
                  {instructor && (
                    <Button disabled={busy} aria-pressed={m.open} onClick={() => void setOpen(m.machine.id, !m.open)}>
                      {m.open ? say("open") : say("closed")}
                    </Button>
                  )}
                </li>
              ))}
            </ul>
          </section>
          <section className="card pad stack">
            <div className="between">
              <h2>{say("Cleaning up")}</h2>
              {now.duties.length === 0 && me.role !== "auditor" && (
                <Button disabled={busy} onClick={() => void duties()}>
                  {say("Assign duties")}
                </Button>
              )}
            </div>
            {now.duties.length === 0 ? (
              <p className="muted small">{say("Whoever was at a machine cleans it; the others take the rest in turn.")}</p>
            ) : (
              <Duties duties={now.duties} />
            )}
          </section>
          {now.out.length > 0 && (
            <section className="card pad stack">
              <div className="between">
                <h2>{say("Out of the crib: {count}", { count: now.out.length })}</h2>
                <Link to="/crib">{say("to the counter")}</Link>
              </div>
              <ul className="roll">
                {now.out.map((o) => (
                  <li key={o.id}>
                    <span className="grow">
                      {o.thing.name} {o.late && <span className="needs">{say("earlier session")}</span>}
                    </span>
                    {o.person.name}
                  </li>
                ))}
              </ul>
            </section>
          )}
          {plan && <LayOut plan={plan} />}
        </div>
      </div>
      {(asking === "supervise" || asking === "leave") && (
        <PinDialog
          title={asking === "leave" ? say("Leave the supervision") : say("Supervise this session")}
          act={asking === "leave" ? say("Leave") : say("I supervise")}
          onClose={() => setAsking(null)}
          onAct={supervise(asking === "supervise")}
        >
          <p>
            {asking === "leave"
              ? say("With nobody supervising no start is enabled. Running cuts go on and alarm.")
              : say("From now on you answer the calls as well.")}
          </p>
        </PinDialog>
      )}
      {asking === "end" && (
        <PinDialog
          title={say("End the session of {name}", { name: now.group.name })}
          act={say("End the session")}
          danger
          onClose={() => setAsking(null)}
          onAct={end}
        >
          {now.out.length > 0 && (
            <p className="caution">
              <Rich
                text={"<b>Not back in the crib: {count}.</b> {listed}. It stays on the list as missing until it comes back."}
                values={{ count: now.out.length, listed: now.out.map((o) => `${o.thing.name} (${o.person.name})`).join(", ") }}
                with={{ b: <b /> }}
              />
            </p>
          )}
          <p>{say("Each machine that was used is handed back: stopped, clean, cutter out, nothing left in the vise.")}</p>
          <ul className="ticks">
            {now.machines
              .filter((m) => m.people.length > 0)
              .map((m) => (
                <li key={m.machine.id}>
                  <Checkbox
                    className={back.includes(m.machine.id) ? "ticked" : ""}
                    checked={back.includes(m.machine.id)}
                    onChange={(e) => setBack(e.target.checked ? [...back, m.machine.id] : back.filter((x) => x !== m.machine.id))}
                  >
                    <b>{say("{name} is handed back", { name: m.machine.name })}</b>
                  </Checkbox>
                </li>
              ))}
          </ul>
        </PinDialog>
      )}
    </>
  );
}

function Duties({ duties }: { duties: readonly Schema["DutyView"][] }) {
  return (
    <Lines
      rows={duties}
      rowKey={(d) => d.person + d.what}
      showHeader={false}
      columns={[
        { key: "0", title: "", className: "head", render: (_, d) => d.person },
        { key: "1", title: "", render: (_, d) => d.what },
      ]}
    />
  );
}

function Past({ past }: { past: readonly Schema["PastSession"][] }) {
  if (past.length === 0) return null;
  return (
    <section className="card pad stack">
      <h2>{say("The last sessions")}</h2>
      <Lines
        rows={past}
        rowKey={(p) => p.id}
        showHeader={false}
        columns={[
          { key: "0", title: "", render: (_, p) => when(p.opened_at) },
          { key: "1", title: "", render: (_, p) => p.group },
          {
            key: "2",
            title: "",
            className: "small muted",
            render: (_, p) =>
              p.duties
                .map((d) => d.person)
                .filter((n, i, all) => all.indexOf(n) === i)
                .join(", "),
          },
        ]}
      />
    </section>
  );
}
