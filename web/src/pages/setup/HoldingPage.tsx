import { sure } from "../../shared/sure";
import { Waiting } from "../../shared/Loading";
import { Button, Checkbox, Input, Select } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { api, body, newId, wordsFor, type LengthUnit, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { HoldSection, StrapPicture } from "../../instruments/HoldSection";
import { textIn } from "../../instruments/length";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import { SetupStates } from "./SetupStates";
import { Squaring } from "./Squaring";
import "../../look/pictures.css";
import "./setup.css";
import { Lines } from "../../shared/Lines";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Page = Schema["HoldingPage"];
type Question = Schema["HoldQuestion"];
type Answer = Schema["HoldAnswer"];

/** How the work of a job card is held: in the vise on which parallels, under straps, and how a rough block is squared. */
export default function HoldingPage() {
  const { assignment = "" } = useParams();
  const { data, error } = useQuery(queries.holding(assignment));
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  return <Holding key={assignment} page={data} />;
}

function Holding({ page: p }: { page: Page }) {
  const [shown, setShown] = useState<"vise" | "strap" | "square">(p.block ? "vise" : "strap");
  const tabs = { vise: say("In the vise"), strap: say("Under a strap"), square: say("Square a rough block") };
  return (
    <main className="page stack">
      <div className="between">
        <div>
          <h1>{say("Hold the work: {name}", { name: p.name })}</h1>
          <p className="muted">
            {p.stock}
            {p.machine && say(", on {name}", { name: p.machine.name })}
          </p>
        </div>
        <Link className="button" to={`/job/${p.assignment}`}>
          {say("Back to the job card")}
        </Link>
      </div>
      <section className="card">
        <SetupStates states={[p.state]} to={() => null} />
      </section>
      <div className="row" role="tablist">
        {(Object.keys(tabs) as (keyof typeof tabs)[]).map((t) => (
          <Button key={t} role="tab" aria-selected={shown === t} type={shown === t ? "primary" : "default"} onClick={() => setShown(t)}>
            {tabs[t]}
          </Button>
        ))}
      </div>
      {shown === "vise" && (p.question && p.answer ? <InVise page={p} question={p.question} answer={p.answer} /> : <Round block={p.block} />)}
      {shown === "strap" && <UnderStrap unit={p.unit} />}
      {shown === "square" && <Squaring steps={p.squaring} />}
    </main>
  );
}

function Round({ block }: { block: boolean }) {
  return (
    <p className="caution">
      {block
        ? say("The register has no vise yet: an instructor adds it under Shop.")
        : say("Round work is held in a V-block or between the jaws with its axis along them. Ask to be shown before you cut.")}
    </p>
  );
}

function InVise({ page: p, question, answer }: { page: Page; question: Question; answer: Answer }) {
  const me = useMe();
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [q, setQ] = useState(question);
  const [found, setFound] = useState({ of: question, answer });
  const [wrong, setWrong] = useState("");
  useEffect(() => {
    if (q === found.of) return;
    let dropped = false;
    // a pause in typing, then the server works it out
    const timer = setTimeout(() => {
      body(
        api.POST("/api/job-cards/{assignment}/holding/check", {
          params: { path: { assignment: p.assignment } },
          body: q,
        }),
      ).then(
        (a) => {
          if (dropped) return;
          setFound({ of: q, answer: a });
          setWrong("");
        },
        (e: unknown) => !dropped && setWrong(wordsFor(e)),
      );
    }, 150);
    return () => {
      dropped = true;
      clearTimeout(timer);
    };
  }, [q, found.of, p.assignment]);
  const a = found.answer;
  const chosen = sure(a.pairs[a.chosen]);
  const hits = chosen.said.filter((s) => s.weight === "hits");
  const keep = () =>
    act(async () => {
      const fresh = await body(
        api.POST("/api/job-cards/{assignment}/holding", {
          params: { path: { assignment: p.assignment } },
          body: { ...q, id: newId() },
        }),
      );
      client.setQueryData(queries.holding(p.assignment).queryKey, fresh);
      void client.invalidateQueries({ queryKey: ["job-card"] });
    });
  const cuts = q.cuts;
  const own = me.id === p.student.id || me.role === "instructor" || me.role === "assistant";
  const size = (name: "across" | "along" | "height", words: string) => (
    <label className="asked">
      {words}, {q.unit}
      <Input inputMode="decimal" value={q[name]} maxLength={20} onChange={(e) => setQ({ ...q, [name]: e.target.value })} />
    </label>
  );
  return (
    <div className="setup-columns wide">
      <div className="stack">
        <HoldSection
          section={a.section}
          hits={hits.map((h) => h.about)}
          said={say("{words}: {proud} above the jaws, {grip} gripped", { words: chosen.words, proud: chosen.proud, grip: chosen.grip })}
        />
        <div className="hold-facts">
          <Fact name={say("above the jaws")} value={chosen.proud} />
          <Fact name={say("gripped")} value={chosen.grip} note={say("wanted {grip_wanted}", { grip_wanted: chosen.grip_wanted })} />
          <Fact name={say("rests on")} value={chosen.words} />
        </div>
        {chosen.said.map((s) => (
          <p key={s.words} className={s.weight === "hits" ? "error" : s.weight === "weak" ? "caution" : "small muted"}>
            {s.words}
          </p>
        ))}
        <p>{a.stop}</p>
        {chosen.good && (
          <p className="setup-accepted">
            {say("Nothing is in the way and it is held well. Tap it down after tightening: the paper slips must hold.")}
          </p>
        )}
        <p className="caution small">
          <Rich
            text={
              "<b>Run the cutter over the whole path with the spindle stopped, before the first cut.</b> The page knows the sizes you gave it and nothing else."
            }
            with={{ b: <b /> }}
          />
        </p>
        <Refused words={error} />
        {own && (
          <Button type="primary" size="large" disabled={busy || hits.length > 0 || wrong !== "" || found.of !== q} onClick={() => void keep()}>
            {hits.length > 0 ? say("Something would be hit") : say("Save this holding")}
          </Button>
        )}
      </div>
      <div className="stack">
        <section className="card pad stack">
          <h2>{say("The work now")}</h2>
          <div className="setup-form">
            {size("across", say("Across the jaws"))}
            {size("along", say("Along them"))}
            {size("height", say("Height"))}
          </div>
          <label className="asked">
            {say("Vise")}
            <Select
              showSearch={{ optionFilterProp: "label" }}
              value={q.vise}
              onChange={(picked) => setQ({ ...q, vise: picked })}
              options={[...p.vises.map((v) => ({ value: v.id, label: v.name }))]}
            />
          </label>
          <Checkbox
            className="setup-tight"
            checked={q.turned}
            onChange={(e) => setQ({ ...q, turned: e.target.checked, across: q.along, along: q.across })}
          >
            <span>{say("Turned: the part's X lies across the jaws")}</span>
          </Checkbox>
          <h3>{say("Cuts made in this holding")}</h3>
          {p.cuts.length === 0 && <p className="muted">{say("No cut of this part comes from above.")}</p>}
          {p.cuts.map((c) => (
            <Checkbox
              key={c.name}
              className="setup-tight"
              checked={cuts.includes(c.name)}
              onChange={(e) => setQ({ ...q, cuts: e.target.checked ? [...cuts, c.name] : cuts.filter((n) => n !== c.name) })}
            >
              <span>
                {c.name} <span className="small muted">{c.words}</span>
              </span>
            </Checkbox>
          ))}
          <Refused words={wrong} />
        </section>
        <section className="card">
          <h2 className="pad">{say("The drawer")}</h2>
          <Lines
            className="hold-drawer"
            rows={a.pairs}
            rowKey={(x) => x.words}
            onRow={(_, i) => ({ className: i === a.chosen ? "on" : "" })}
            columns={[
              {
                key: "0",
                title: say("Stands on"),
                className: "nowrap",
                render: (_, x, i) => (
                  <Button
                    type="text"
                    className="plain nowrap"
                    aria-pressed={i === a.chosen}
                    onClick={() => setQ({ ...q, pair: x.height ? textIn(x.height, q.unit) : "bed" })}
                  >
                    {x.words}
                  </Button>
                ),
              },
              { key: "1", title: say("above"), className: "num", render: (_, x) => x.proud },
              { key: "2", title: say("gripped"), className: "num", render: (_, x) => x.grip },
              {
                key: "3",
                title: say("Result"),
                className: "small",
                render: (_, x) => (x.said.length === 0 ? say("good") : sure(x.said[0]).words),
              },
            ]}
          />
        </section>
      </div>
    </div>
  );
}

function Fact({ name, value, note }: { name: string; value: string; note?: string }) {
  return (
    <div>
      <span className="small muted">{name}</span>
      <b>{value}</b>
      {note && <span className="small muted">{note}</span>}
    </div>
  );
}

const START = {
  in: { work_arm: "1", heel_arm: "3", heel_rise: "0.05" },
  mm: { work_arm: "25", heel_arm: "75", heel_rise: "1" },
};

function UnderStrap({ unit }: { unit: LengthUnit }) {
  const [q, setQ] = useState({ unit, ...START[unit] });
  const { data, error } = useQuery({
    queryKey: ["strap", q],
    queryFn: () => body(api.POST("/api/strap", { body: q })),
    placeholderData: (was: Schema["StrapAnswer"] | undefined) => was,
    retry: false,
  });
  const asked = (name: "work_arm" | "heel_arm" | "heel_rise", words: string) => (
    <label className="asked">
      {words}, {unit}
      <Input inputMode="decimal" value={q[name]} maxLength={20} onChange={(e) => setQ({ ...q, [name]: e.target.value })} />
    </label>
  );
  return (
    <div className="setup-columns wide">
      <div className="stack">
        {data && <StrapPicture strap={data.strap} />}
        {data && (
          <p>
            <Rich
              text={"<b>{percent} %</b> of the bolt's force holds the work: {words}."}
              values={{ percent: data.strap.percent, words: data.words }}
              with={{ b: <b className="setup-big" /> }}
            />
          </p>
        )}
        {data?.said.map((s) => (
          <p key={s.words} className={s.weight === "hits" ? "error" : "caution"}>
            {s.words}
          </p>
        ))}
      </div>
      <div className="stack">
        <section className="card pad stack">
          <h2>{say("The strap")}</h2>
          {asked("work_arm", say("From the bolt to where it presses on the work"))}
          {asked("heel_arm", say("From the bolt to the heel"))}
          {asked("heel_rise", say("Heel higher than the work by"))}
          <Refused by={error} />
        </section>
        <p className="caution">
          <Rich
            text={
              "<b>A strap that lies on air bends the work and lets go.</b> Press only where the work is backed by the table or a parallel; two straps at least; nuts tight before the spindle turns, and the cutter's whole path clear of bolt, strap and heel."
            }
            with={{ b: <b /> }}
          />
        </p>
      </div>
    </div>
  );
}
