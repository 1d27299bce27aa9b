import { Button } from "antd";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, body, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Dialog } from "../../shared/Dialog";
import { Lines } from "../../shared/Lines";
import { Waiting } from "../../shared/Loading";
import { say, sayMany } from "../../shared/say";
import { minutes } from "./Compare";
import { Mark } from "./Strip";
import "./planning.css";

/** The plans of a group for one part: what goes wrong most, whose plan stands how, what all of them need. */
export function GroupPlans({ project, group }: { project: string; group: string }) {
  const { data } = useQuery(queries.groupPlans(project, group));
  const [shown, setShown] = useState("");
  if (!data) return null;
  return (
    <section className="card pad stack">
      <h2>{say("Plans")}</h2>
      {data.plans.length === 0 && (
        <p className="muted">{say("Nobody in this group has handed in a plan yet. Plans appear here with what goes wrong most.")}</p>
      )}
      {data.often.length > 0 && (
        <>
          <h3>{say("What goes wrong most")}</h3>
          <ul className="plan-often">
            {data.often.slice(0, 5).map((o) => (
              <li key={o.code}>
                <b>{o.title}</b> · {sayMany("in {count} plan", "in {count} plans", o.plans)}
                <span className="small muted">
                  {o.example} {o.why}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
      {data.plans.length > 0 && (
        <Lines
          rows={data.plans}
          rowKey={(p) => p.hand_in}
          columns={[
            { key: "who", title: say("Student"), render: (_, p) => <Link to={`/job/${p.assignment}/plan`}>{p.student.name}</Link> },
            { key: "found", title: say("Found"), render: (_, p) => <Counts of={p} /> },
            {
              key: "state",
              title: "",
              render: (_, p) => (p.approved === null ? say("waits") : p.approved ? say("sound or approved") : say("sent back")),
            },
            {
              key: "show",
              title: "",
              render: (_, p) => (
                <Button size="small" onClick={() => setShown(p.hand_in)}>
                  {say("Show to the class")}
                </Button>
              ),
            },
          ]}
        />
      )}
      {data.needs.some((n) => n.short) && (
        <p className="caution">
          {say("Too few for all at once: {names}.", {
            names: data.needs
              .filter((n) => n.short)
              .map((n) => say("{name} ({wanted} wanted, {left} there)", { name: n.name, wanted: n.wanted, left: n.left }))
              .join(", "),
          })}
        </p>
      )}
      {shown && <Shown plan={shown} onClose={() => setShown("")} />}
    </section>
  );
}

function Counts({ of }: { of: Schema["GroupPlanLine"] }) {
  const counts = [
    ["breaks", of.breaks],
    ["spoils", of.spoils],
    ["costs", of.costs],
  ] as const;
  return (
    <span className="row">
      {counts
        .filter(([, n]) => n > 0)
        .map(([weight, n]) => (
          <span key={weight} className="row">
            <Mark weight={weight} /> {n}
          </span>
        ))}
      {counts.every(([, n]) => n === 0) && say("nothing")}
    </span>
  );
}

/** One plan in front of the class, without a name: what it does, and what would go wrong. */
function Shown({ plan, onClose }: { plan: string; onClose: () => void }) {
  const { data } = useQuery({
    queryKey: ["shown-plan", plan],
    queryFn: () => body(api.GET("/api/plans/{plan}/shown", { params: { path: { plan } } })),
  });
  const look = data?.look;
  return (
    <Dialog title={say("A plan of this group")} wide onClose={onClose}>
      {!look && <Waiting />}
      {look && (
        <div className="stack">
          <p className="muted">
            {look.machine.name} · {sayMany("{count} holding", "{count} holdings", look.costs.holdings)} · {minutes(look.costs.minutes)}
          </p>
          <ol className="plan-shown">
            {look.holdings.map((h) => (
              <li key={h.id}>
                <b>{h.title}</b>
                <ul>
                  {h.operations.map((id) => {
                    const s = look.stages.find((x) => x.id === id);
                    const found = look.findings.filter((f) => f.operation === id);
                    return (
                      <li key={id}>
                        {s?.title} {s?.on} <span className="muted">{s?.cutter}</span>
                        {found.map((f) => (
                          <div key={f.code + f.words}>
                            <Mark weight={f.weight} /> <b>{f.title}.</b> {f.words} {f.cure}
                          </div>
                        ))}
                      </li>
                    );
                  })}
                </ul>
              </li>
            ))}
          </ol>
        </div>
      )}
    </Dialog>
  );
}
