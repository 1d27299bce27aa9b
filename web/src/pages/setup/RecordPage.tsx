import { Waiting } from "../../shared/Loading";
import { Fold } from "../../shared/Fold";
import type { InputRef } from "antd";
import { Lines } from "../../shared/Lines";
import { Button, Checkbox, Input } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Convergence } from "../../instruments/Convergence";
import { HeadView } from "../../instruments/HeadView";
import { VisePlan } from "../../instruments/VisePlan";
import { Working } from "../../instruments/Working";
import { useAct } from "../../shared/useAct";
import { when } from "../../shared/time";
import "../../look/pictures.css";
import "./setup.css";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Page = Schema["SetupPage"];

/** A working record at the machine: the picture, the one next thing, the reading, what it does to the part. */
export default function RecordPage() {
  const { setup = "" } = useParams();
  const { data, error } = useQuery(queries.setup(setup));
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  return <Record key={data.id} page={data} />;
}

function Record({ page: p }: { page: Page }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const open = p.mine && !p.accepted_at;
  const keep = (fresh: Page) => {
    client.setQueryData(queries.setup(p.id).queryKey, fresh);
    void client.invalidateQueries({
      predicate: (q) => q.queryKey[0] === "setup-bench" || q.queryKey[0] === "job-card",
    });
  };
  const save = (axis: Schema["HeadAxis"] | null, low: string, high: string, tight: boolean) =>
    act(async () => {
      keep(
        await body(
          api.POST("/api/setups/{setup}/passes", {
            params: { path: { setup: p.id } },
            body: { id: newId(), axis, low, high, tight },
          }),
        ),
      );
    });
  const accept = () =>
    act(async () => {
      keep(await body(api.POST("/api/setups/{setup}/acceptance", { params: { path: { setup: p.id } }, body: { id: newId() } })));
    });
  const groups = [...new Set(p.passes.map((x) => x.axis))];
  return (
    <main className="page stack">
      <div className="between">
        <div>
          <h1>
            {p.kind === "head"
              ? say("Square the head of {name}", { name: p.machine.name })
              : say("Align {holding} on {name}", { holding: p.holding, name: p.machine.name })}
          </h1>
          <p className="muted">
            {say("{name}, begun {at}", { name: p.by.name, at: when(p.at) })}
            {p.job && (
              <>
                <Rich text={" for <a>{job}</a>"} values={{ job: p.job }} with={{ a: <Link to={`/job/${p.assignment}`} /> }} />
              </>
            )}
            {say("; allowed {standard}", { standard: p.standard })}
          </p>
        </div>
        <Link className="button" to={`/setup/${p.machine.id}${p.assignment ? `?card=${p.assignment}` : ""}`}>
          {say("All setups of {name}", { name: p.machine.name })}
        </Link>
      </div>
      {p.accepted_at && (
        <p className="setup-accepted" role="status">
          <b className="head">{say("Accepted {accepted_at}.", { accepted_at: when(p.accepted_at) })}</b> {p.accepted}
        </p>
      )}
      <div className="setup-columns wide">
        <div className="stack">
          <Picture page={p} />
          {p.fixed.map((f) => (
            <p key={f} className="caution">
              {f}
            </p>
          ))}
          {p.effects.length > 0 && (
            <section className="card pad stack">
              <h2>{say("What this does to the part")}</h2>
              <ul className="setup-effects">
                {p.effects.map((e) => (
                  <li key={e.words}>
                    <span className="grow">{e.words}</span>
                    {e.share && <span className={e.over ? "setup-share over" : "setup-share"}>{e.share}</span>}
                  </li>
                ))}
              </ul>
            </section>
          )}
          {p.working.length > 0 && (
            <Fold title={say("The working of the last reading")}>
              <Working steps={p.working} />
            </Fold>
          )}
        </div>
        <div className="stack">
          {!p.accepted_at && (
            <section className="card pad stack setup-next" role="status" data-do={p.next.do}>
              <h2>{p.next.title}</h2>
              <ol className="points">
                {p.next.lines.map((l) => (
                  <li key={l}>{l}</li>
                ))}
              </ol>
              {open && p.next.do === "accept" && (
                <Button type="primary" size="large" disabled={busy} onClick={() => void accept()}>
                  {say("Accept this setup")}
                </Button>
              )}
            </section>
          )}
          {open && p.next.do !== "accept" && <Reading key={`${p.passes.length}`} page={p} busy={busy} onSave={save} />}
          <Refused words={error} />
          <section className="card">
            <Lines
              rows={p.passes}
              rowKey={(x) => x.number}
              locale={{ emptyText: say("Your readings appear here, each judged against {standard}.", { standard: p.standard }) }}
              columns={[
                {
                  key: "pass",
                  title: say("Pass"),
                  render: (_, x) => (
                    <>
                      {x.number} {x.tight && <span className="small muted">{say("tight")}</span>}
                    </>
                  ),
                },
                ...(p.kind === "head" ? [{ key: "axis", title: "axis", render: (_: unknown, x: (typeof p.passes)[number]) => x.axis }] : []),
                {
                  key: "low",
                  title: p.kind === "head" ? say("left, front") : say("{ends} end", { ends: p.ends[0] }),
                  className: "num",
                  render: (_, x) => x.low,
                },
                {
                  key: "high",
                  title: p.kind === "head" ? say("right, rear") : say("{ends} end", { ends: p.ends[1] }),
                  className: "num",
                  render: (_, x) => x.high,
                },
                {
                  key: "off",
                  title: say("off by"),
                  className: "num",
                  onCell: (x) => ({ className: x.within ? "setup-in" : "setup-out" }),
                  render: (_, x) => (
                    <>
                      {x.off} <span className="small">{x.within ? "allowed" : say("too far")}</span>
                    </>
                  ),
                },
              ]}
            />
            {groups.map((g) => (
              <div key={g}>
                {g && <p className="small muted setup-axis">{g}</p>}
                <Convergence off={p.passes.filter((x) => x.axis === g).map((x) => x.off_mm)} standard={p.standard_mm} />
              </div>
            ))}
          </section>
        </div>
      </div>
    </main>
  );
}

function Reading({
  page: p,
  busy,
  onSave,
}: {
  page: Page;
  busy: boolean;
  onSave: (axis: Schema["HeadAxis"] | null, low: string, high: string, tight: boolean) => Promise<boolean>;
}) {
  const [axis, setAxis] = useState<Schema["HeadAxis"] | null>(p.next.axis);
  const [low, setLow] = useState("0");
  const [high, setHigh] = useState("");
  const [tight, setTight] = useState(p.next.tight);
  const second = useRef<InputRef>(null);
  const ends = p.kind === "head" ? (axis === "nod" ? ["front", "rear"] : ["left", "right"]) : p.next.stations;
  return (
    <form
      className="card pad stack setup-reading"
      onSubmit={(e) => {
        e.preventDefault();
        if (high.trim() === "") return second.current?.focus();
        void onSave(axis, low, high, tight);
      }}
    >
      {p.kind === "head" && (
        <div className="row" role="group" aria-label={say("Axis")}>
          {(["tilt", "nod"] as const).map((a) => (
            <Button key={a} type={axis === a ? "primary" : "default"} className="grow" aria-pressed={axis === a} onClick={() => setAxis(a)}>
              {a === "tilt" ? say("side to side") : say("front to back")}
            </Button>
          ))}
        </div>
      )}
      <div className="row">
        <label className="asked grow">
          {say("Needle at the")} {ends[0]}, {p.unit}
          <Input
            className="reading"
            name="low"
            inputMode="decimal"
            value={low}
            maxLength={20}
            onChange={(e) => setLow(e.target.value)}
            onFocus={(e) => e.target.select()}
          />
        </label>
        <label className="asked grow">
          {say("at the")} {ends[1]}, {p.unit}
          <Input
            className="reading"
            name="high"
            ref={second}
            inputMode="decimal"
            value={high}
            maxLength={20}
            autoFocus
            onChange={(e) => setHigh(e.target.value)}
          />
        </label>
      </div>
      <Checkbox className="setup-tight" checked={tight} onChange={(e) => setTight(e.target.checked)}>
        <span>
          <Rich text={"Every bolt was <b>tight</b> for this reading"} with={{ b: <b /> }} />
        </span>
      </Checkbox>
      <Button type="primary" size="large" htmlType="submit" disabled={busy}>
        {say("Save reading")}
      </Button>
    </form>
  );
}

/** How far a lean is drawn beyond what it is; nobody could see it otherwise. */
const SHOWN = { head: 60, vise: 25 };
const within = (v: number, most: number) => Math.max(-most, Math.min(most, v));

function Picture({ page: p }: { page: Page }) {
  const [low = "", high = ""] = p.next.stations;
  const targets: Record<string, string> =
    p.next.targets && p.next.do === "adjust"
      ? { [low]: say("to {targets}", { targets: p.next.targets[0] }), [high]: say("to {targets}", { targets: p.next.targets[1] }) }
      : {};
  if (p.kind === "head") {
    const first = p.next.do === "read" || p.next.do === "tighten" ? { [low]: say("zero here"), [high]: say("then here") } : targets;
    return (
      <figure className="setup-picture">
        <HeadView
          degrees={low === "front" ? 270 : 180}
          down
          lean={within((p.lean.tilt ?? 0) * SHOWN.head, 0.2)}
          bow={within((p.lean.nod ?? 0) * SHOWN.head, 0.2)}
          nods={p.axes.includes("nod")}
          slots={[]}
          marks={p.accepted_at ? {} : first}
          said={say("The head as it was read: the indicator is at the {low} now and goes to the {high} next", { low, high })}
        />
        <figcaption className="small muted">{say("Leaning as drawn is {head} times what it is.", { head: SHOWN.head })}</figcaption>
      </figure>
    );
  }
  const plan = p.plan;
  if (!plan) return null;
  const marks = [
    { at: plan.left_at, name: targets[low] ?? low, on: p.next.do !== "adjust" || plan.bring === low },
    { at: plan.right_at, name: targets[high] ?? high, on: p.next.do !== "adjust" || plan.bring === high },
  ];
  return (
    <figure className="setup-picture">
      <VisePlan
        jaw={plan.jaw}
        bolts={plan.bolts}
        before={plan.bolts_before}
        table={p.next.do === "adjust" ? (plan.bring === low ? plan.left_at : plan.right_at) : plan.left_at}
        crooked={within(-(p.lean.jaw ?? 0) * SHOWN.vise, 0.1)}
        touched
        marks={marks}
        pivot={plan.pivot}
        along={p.along}
        said={say("The vise from above, {value}: read near the {low} end, then near the {high} end", {
          value: p.along === "y" ? say("its jaw along Y") : say("its jaw along X"),
          low,
          high,
        })}
      />
      <figcaption className="small muted">{say("Crooked as drawn is {vise} times what it is.", { vise: SHOWN.vise })}</figcaption>
    </figure>
  );
}
