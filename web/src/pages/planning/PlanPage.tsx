import { Button } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { PlanFrame } from "../../instruments/PlanFrame";
import { Dialog } from "../../shared/Dialog";
import { Waiting } from "../../shared/Loading";
import { PickFile } from "../../shared/PickFile";
import { useMe } from "../../shared/me";
import { say, sayMany } from "../../shared/say";
import { clock, day } from "../../shared/time";
import { download } from "../../shared/download";
import { useAct } from "../../shared/useAct";
import { Lines } from "../../shared/Lines";
import { Compare, minutes } from "./Compare";
import { Decide, type Remarks } from "./Decide";
import { Findings } from "./Findings";
import { HoldingCard } from "./HoldingCard";
import { OperationCard } from "./OperationCard";
import { Strip } from "./Strip";
import { Task } from "./Task";
import { Things } from "./Things";
import { planFrames, usePlan, type Building, type Look, type Page } from "./usePlan";
import { Refused } from "../../shared/Refused";
import "./planning.css";

/** The plan of a job card: the part after every operation, what would go wrong, and the numbers behind it. */
export default function PlanPage() {
  const { assignment = "" } = useParams();
  const [query, setQuery] = useSearchParams();
  const machine = query.get("machine") ?? "";
  const { data, error } = useQuery(queries.plan(assignment, machine));
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  if (data.cannot) {
    return (
      <main className="page stack">
        <h1>{say("Plan: {name}", { name: data.name })}</h1>
        <p className="caution">{data.cannot}</p>
        <Link className="button" to={`/job/${assignment}`}>
          {say("Back to the job card")}
        </Link>
      </main>
    );
  }
  if (!data.look) return <OnWhich page={data} onChoose={(m) => setQuery({ machine: m })} />;
  return <Planning key={`${assignment} ${data.number} ${data.task} ${data.hand_in ?? ""} ${data.decisions.length}`} page={data} look={data.look} />;
}

/** The job card names no machine: the plan needs one, for its speeds, its travel and its vise. */
function OnWhich({ page, onChoose }: { page: Page; onChoose: (machine: string) => void }) {
  return (
    <main className="page stack">
      <h1>{say("Plan: {name}", { name: page.name })}</h1>
      <p>{say("Speeds, travel and the vise are the machine's. On which one will you make it?")}</p>
      <div className="row wraps">
        {page.machines.map((m) => (
          <Button key={m.id} size="large" onClick={() => onChoose(m.id)}>
            {m.name}
          </Button>
        ))}
      </div>
    </main>
  );
}

function Planning({ page, look: first }: { page: Page; look: Look }) {
  const me = useMe();
  const building = usePlan(page, me.id);
  const look = building.look ?? first;
  const ids = look.stages.map((s) => s.id);
  const [picked, setChosen] = useState(ids[0] ?? look.holdings[0]?.id ?? "");
  const [open, setOpen] = useState<"" | "own" | "task" | "needs" | "files">("");
  const [remarks, setRemarks] = useState<Remarks>({});
  const student = me.role === "student";
  const editable = (student || me.role === "instructor") && page.handed_in === null;
  // what was chosen may be gone after an undo: the last frame is shown then
  const there = ids.includes(picked) || look.holdings.some((h) => h.id === picked);
  const chosen = there ? picked : (look.holdings.at(-1)?.operations.at(-1) ?? look.holdings.at(-1)?.id ?? "");
  const stage = look.stages.find((s) => s.id === chosen);
  const held = look.holdings.find((h) => h.id === (stage?.holding ?? chosen));
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key === "z" && editable && !(event.target instanceof HTMLInputElement)) {
        event.preventDefault();
        building.undo();
      }
    };
    window.addEventListener("keydown", keys);
    return () => window.removeEventListener("keydown", keys);
  });
  const last = page.decisions[0];
  const remarkAt = (id: string) => (last && !last.approved ? (last.remarks.find((r) => r.operation === id)?.words ?? "") : "");
  const holding = held?.id ?? look.holdings.at(-1)?.id ?? "";
  const number = ids.indexOf(stage?.id ?? "") + 1;
  const cure = editable && !(student && page.judged === "end");
  return (
    <main className="page stack plan-page">
      <Head page={page} look={look} building={building} editable={editable} onOpen={setOpen} />
      <Notices page={page} building={building} />
      <Strip building={building} look={look} chosen={chosen} editable={editable} faces={page.faces} onChoose={setChosen} />
      {editable && <Things page={page} building={building} look={look} holding={holding} onMade={() => setChosen("")} />}
      <div className="plan-columns">
        <Large page={page} building={building} look={look} chosen={chosen} />
        <div className="stack">
          {page.waiting && !student && page.hand_in && me.role === "instructor" && (
            <Decide
              page={page}
              hand_in={page.hand_in}
              chosen={stage?.id ?? ""}
              chosenName={stage ? `${number} ${stage.title}` : ""}
              remarks={remarks}
              onRemarks={setRemarks}
            />
          )}
          {look.judged ? (
            look.stages.length > 0 && (
              <Findings
                found={look.findings}
                chosen={chosen}
                onGo={setChosen}
                onCure={cure ? (f) => void building.act({ act: "cure", code: f.code, holding: f.holding, operation: f.operation }) : null}
              />
            )
          ) : (
            <p className="caution">{say("This plan is judged when you hand it in.")}</p>
          )}
          {stage && (
            <OperationCard
              key={stage.id}
              assignment={page.assignment}
              building={building}
              look={look}
              stage={stage}
              number={number}
              editable={editable}
              remark={remarkAt(stage.id)}
            />
          )}
          {held && (!stage || chosen === held.id) && <HoldingCard building={building} page={page} held={held} editable={editable} />}
        </div>
      </div>
      {open === "own" && <Compare assignment={page.assignment} building={building} onClose={() => setOpen("")} />}
      {open === "task" && <Task page={page} building={building} onClose={() => setOpen("")} />}
      {open === "files" && <Files page={page} building={building} editable={editable} onClose={() => setOpen("")} />}
      {open === "needs" && <Needs needs={look.needs} onClose={() => setOpen("")} />}
    </main>
  );
}

function Head(p: { page: Page; look: Look; building: Building; editable: boolean; onOpen: (what: "own" | "task" | "needs" | "files") => void }) {
  const { page, look, building, editable } = p;
  const me = useMe();
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const student = me.role === "student";
  const heavy = { breaks: 0, spoils: 0, costs: 0, person: 0 };
  for (const f of look.findings) heavy[f.weight] += 1;
  const c = look.costs;
  const handIn = () =>
    act(async () => {
      if (building.dirty || page.number === 0) {
        if (!(await building.save())) return;
      }
      const saved = client.getQueryData<Page>(queries.plan(page.assignment, "").queryKey);
      const fresh = await body(
        api.POST("/api/job-cards/{assignment}/plan/hand-ins", {
          params: { path: { assignment: page.assignment } },
          body: { id: newId(), number: saved?.number ?? page.number },
        }),
      );
      client.setQueryData(queries.plan(page.assignment, "").queryKey, fresh);
      void client.invalidateQueries({ queryKey: ["job-card"] });
    });
  const state = building.waiting
    ? say("waiting for the network")
    : building.dirty
      ? say("not saved yet, kept in this browser")
      : page.number
        ? say("saved")
        : "";
  return (
    <header className="plan-head">
      <div className="grow">
        <h1>{say("Plan: {name}", { name: page.name })}</h1>
        <p className="muted">
          {!student && `${page.student.name} · `}
          {say("on {machine}", { machine: look.machine.name })}
          {" · "}
          {sayMany("{count} holding", "{count} holdings", c.holdings)}
          {" · "}
          {sayMany("{count} change of cutter", "{count} changes of cutter", c.changes)}
          {" · "}
          {say("about {time}", { time: minutes(c.minutes) })}
          {heavy.breaks > 0 && (
            <b className="bad-words"> · {sayMany("{count} that breaks something", "{count} that break something", heavy.breaks)}</b>
          )}
          {heavy.spoils > 0 && <b className="bad-words"> · {sayMany("{count} that spoils the part", "{count} that spoil the part", heavy.spoils)}</b>}
          {heavy.costs > 0 && <span> · {sayMany("{count} that costs time", "{count} that cost time", heavy.costs)}</span>}
        </p>
        {c.paced && <p className="muted small">{c.paced}</p>}
        <Refused words={error} />
      </div>
      <span className="plan-state small" role="status">
        {state}
      </span>
      <div className="row wraps">
        {editable && (
          <Button disabled={!building.canUndo} onClick={building.undo} title="Ctrl+Z">
            {say("Undo")}
          </Button>
        )}
        <Button onClick={() => p.onOpen("needs")}>{say("What it needs")}</Button>
        {me.role === "instructor" && <Button onClick={() => p.onOpen("task")}>{say("How it is planned")}</Button>}
        {page.may_see_own && <Button onClick={() => p.onOpen("own")}>{say("Compare with Incudo's")}</Button>}
        <Button onClick={() => p.onOpen("files")}>{say("Print and files")}</Button>
        {editable && (
          <Button disabled={busy || building.busy || !building.dirty} onClick={() => void building.save()}>
            {say("Save")}
          </Button>
        )}
        {student && editable && (
          <Button type="primary" size="large" disabled={busy || building.busy || look.stages.length === 0} onClick={() => void handIn()}>
            {say("Hand the plan in")}
          </Button>
        )}
      </div>
    </header>
  );
}

/** The plan on paper with drawing and measuring sheet, as a table, and as a file out and in. */
function Files({ page, building, editable, onClose }: { page: Page; building: Building; editable: boolean; onClose: () => void }) {
  const { act, error } = useAct();
  const out = () => download(`plan-${page.name}`, building.plan);
  const take = (file: File) =>
    act(async () => {
      await building.take(await file.text());
      onClose();
    });
  return (
    <Dialog title={say("Print and files")} onClose={onClose}>
      <div className="stack">
        {page.number === 0 && <p className="muted">{say("Save the plan first: what is printed is the saved one.")}</p>}
        {page.number > 0 && (
          <>
            <p>{say("The saved plan, with the drawing to scale and a measuring sheet:")}</p>
            <div className="row">
              {["A4", "Letter"].map((paper) => (
                <a key={paper} className="button" href={`/api/job-cards/${page.assignment}/plan.pdf?paper=${paper}`}>
                  {say("Print, {paper}", { paper })}
                </a>
              ))}
              <a className="button" href={`/api/job-cards/${page.assignment}/plan.csv`}>
                {say("Table, CSV")}
              </a>
            </div>
          </>
        )}
        <p>{say("The plan on this page as a file, to keep it or to begin another one with it:")}</p>
        <div className="row">
          <Button onClick={out}>{say("Download, JSON")}</Button>
          {editable && <PickFile label={say("Import")} accept=".json,application/json" onFile={(file) => void take(file)} />}
        </div>
        <Refused words={error} />
        {page.saved.length > 0 && (
          <>
            <h3>{say("Saved so far")}</h3>
            <ul>
              {page.saved.slice(0, 12).map((v) => (
                <li key={v.number}>{say("{number}: {by}, {day} at {time}", { number: v.number, by: v.by, day: day(v.at), time: clock(v.at) })}</li>
              ))}
            </ul>
          </>
        )}
      </div>
    </Dialog>
  );
}

/** What stands in the way or has happened: no network, an older plan in this browser, decisions, changed numbers. */
function Notices({ page, building }: { page: Page; building: Building }) {
  const last = page.decisions[0];
  return (
    <>
      {building.away && (
        <p className="caution" role="status">
          {say("The shop's server cannot be reached. What you build is kept in this browser; it is checked and saved when the network is back.")}
        </p>
      )}
      <Refused words={building.error} />
      {building.stale && (
        <p className="caution">
          {say("This browser keeps a plan that was never saved, built on an older one.")}{" "}
          <Button onClick={building.takeOld}>{say("Open it here")}</Button> <Button onClick={building.drop}>{say("Discard it")}</Button>
        </p>
      )}
      {page.handed_in && (
        <p className="caution">
          {page.waiting
            ? say("Handed in on {day} at {time}: it waits for an instructor.", { day: day(page.handed_in), time: clock(page.handed_in) })
            : say("Handed in on {day} at {time}.", { day: day(page.handed_in), time: clock(page.handed_in) })}
        </p>
      )}
      {last && !page.handed_in && (
        <p className={last.approved ? "setup-accepted" : "caution"}>
          <b>{verdict(last)}</b> {last.remark}
          {last.approved && !page.approved && ` ${say("It was changed since: hand it in again.")}`}
          {!last.approved && last.by === "Incudo" && ` ${say("Something in it would break or spoil: see what, and change it.")}`}
        </p>
      )}
      {page.changed.map((words) => (
        <p key={words} className="caution">
          {words}
        </p>
      ))}
    </>
  );
}

/** What was decided; where nobody had to, it was the judge. */
function verdict(d: Schema["PlanDecided"]): string {
  if (d.by === "Incudo") return d.approved ? say("Handed in, and sound.") : say("Handed in, and not sound yet.");
  return d.approved ? say("Approved by {by}.", { by: d.by }) : say("Sent back by {by}.", { by: d.by });
}

/** The chosen frame, large: jaws, the metal that goes, the cutter and where the table goes. */
function Large({ page, building, look, chosen }: { page: Page; building: Building; look: Look; chosen: string }) {
  const { data } = useQuery({
    queryKey: ["plan-large", page.assignment, building.machine, chosen, JSON.stringify(look.plan)],
    queryFn: () => planFrames(page.assignment, look.plan, building.machine, chosen),
    enabled: !building.away,
    placeholderData: (was: Schema["PlanFrames"] | undefined) => was,
    staleTime: Infinity,
  });
  const stage = look.stages.find((s) => s.id === chosen);
  const held = look.holdings.find((h) => h.id === stage?.holding);
  const large = data?.large?.operation === chosen ? data.large : null;
  return (
    <figure className="plate plan-large">
      {large ? (
        <PlanFrame frame={large} large said={stage ? say("Before {title}: {on}", { title: stage.title, on: stage.on }) : large.words} />
      ) : (
        <Waiting />
      )}
      <figcaption>
        <span>
          {held?.words ??
            (look.holdings.length === 0
              ? say("The stock. First choose which face looks up, then touch what is to be made.")
              : say("Touch what is to be made in this holding."))}
        </span>
        <span>
          {large?.table ? say("feed: {table}", { table: large.table }) : ""}
          {large?.metal ? ` · ${say("brass is cut away")}` : ""}
        </span>
      </figcaption>
    </figure>
  );
}

/** What has to be there: cutters with their place, parallels, what else holds the work. */
function Needs({ needs, onClose }: { needs: readonly Schema["NeedView"][]; onClose: () => void }) {
  return (
    <Dialog title={say("What the plan needs")} wide onClose={onClose}>
      <Lines
        rows={needs}
        rowKey={(n) => n.what + n.name}
        columns={[
          { key: "what", title: say("What"), render: (_, n) => n.what },
          { key: "name", title: "", render: (_, n) => <b>{n.name}</b> },
          { key: "holder", title: say("Held in"), render: (_, n) => n.holder },
          { key: "place", title: say("Where"), render: (_, n) => n.place },
          {
            key: "left",
            title: say("Available"),
            render: (_, n) => (n.short ? <b className="bad-words">{n.why_not || say("too few")}</b> : n.wanted > 0 && say("yes")),
          },
        ]}
      />
    </Dialog>
  );
}
