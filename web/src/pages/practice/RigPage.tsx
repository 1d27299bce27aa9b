import { sure } from "../../shared/sure";
import { Slider } from "antd";
import { Waiting } from "../../shared/Loading";
import { Lines } from "../../shared/Lines";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Convergence } from "../../instruments/Convergence";
import { Dial } from "../../instruments/Dial";
import { useMotion, type Frame } from "../../instruments/useMotion";
import { useAct } from "../../shared/useAct";
import { AfterRun, Replay } from "./AfterRun";
import { Controls } from "./Controls";
import { CameOut, OutOf, PlanStep, Rings, SceneView } from "./SceneView";
import "../../look/pictures.css";
import "./rigs.css";
import { say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Run = Schema["RigRunView"];
type Action = Schema["Action"];

const STILL: readonly Frame[] = [];

/** One run of a rig: the machine as one would see it, the needle, what can be done, what came of it. */
export default function RigPage() {
  const { run = "" } = useParams();
  const { data, error } = useQuery(queries.rigRun(run));
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  return <Running key={data.id} run={data} />;
}

function Running({ run }: { run: Run }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { act, error, busy } = useAct();
  const [back, setBack] = useState<Run | null>(null);
  const [last, setLast] = useState<Action | null>(null);
  const shown = back ?? run;
  const open = run.mine && !run.result;
  // what was seen once is not played again when the page is opened anew
  const [begun] = useState(run.shown);
  const fresh = shown.shown !== begun || back !== null;
  const frame = useMotion(fresh ? shown.motion : STILL);

  // while one action is under way the next is dropped; a button that is disabled would lose the cursor
  const send = (action: Action) =>
    busy ||
    act(async () => {
      setLast(action);
      const answer = await body(
        api.POST("/api/rigs/runs/{run}/actions", {
          params: { path: { run: run.id } },
          body: { number: run.count + 1, actions: [action] },
        }),
      );
      client.setQueryData(queries.rigRun(run.id).queryKey, answer);
      if (answer.result) void client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "rig-run" });
    });
  const again = (guided: boolean) =>
    act(async () => {
      const next = await body(
        api.POST("/api/rigs/runs", { body: { id: newId(), rig: run.rig, level: run.level, guided, exercise: null, leave: false } }),
      );
      client.setQueryData(queries.rigRun(next.id).queryKey, next);
      void navigate(`/rig/${next.id}`);
    });

  const scene = shown.scene;
  const needle = scene.rig === "head" || scene.rig === "vise" ? { at: frame ? sure(frame[1]) : scene.reading, of: scene } : null;
  // a drawing is taller than the screen: the answers stand with the question above it
  const toRead = scene.rig === "drawing" || scene.rig === "planning" || scene.rig === "trace";
  const controls = open && <Controls controls={run.controls} press={run.press} onDo={(a) => void send(a)} />;
  return (
    <main className="page rig" data-count={run.count} data-moving={busy ? "yes" : frame ? "yes" : "no"}>
      <div className="between">
        <div className="row baseline">
          <h1>{run.name}</h1>
          <p className="muted">{run.task}</p>
        </div>
        <p className="small muted">
          {!run.mine && `${run.student.name} · `}
          {say("level {level}, {level_name}{value}", {
            level: run.level,
            level_name: run.level_name,
            value: run.guided ? say(" · with guidance, does not count") : say(" · for the record"),
          })}
        </p>
      </div>
      {run.result && <AfterRun run={run} result={run.result} onAgain={(guided) => void again(guided)} busy={busy} />}
      <div className="rig-columns">
        <div className="stack">
          {scene.rig === "trace" && scene.picture && <OutOf picture={scene.picture} />}
          {toRead && controls}
          <SceneView scene={scene} at={frame ? sure(frame[0]) : null} reading={frame ? sure(frame[1]) : null} last={last} moving={frame !== null} />
          <Refused words={error} />
          {open && scene.rig === "vise" && (
            <RunTo
              key={scene.table}
              from={scene.table}
              reach={scene.read_along / 2 + 30}
              busy={busy}
              onRun={(by) => void send({ do: "run", on: "", way: "", by })}
            />
          )}
          {!toRead && controls}
          {run.result && <Replay run={run} shown={shown} onShow={setBack} />}
        </div>
        <aside className="stack">
          {scene.rig === "planning" && scene.picture && <PlanStep picture={scene.picture} />}
          <div className="rig-needle">
            {needle && <Dial reading={needle.at} division={needle.of.division} unit={run.unit} turns={needle.of.turns} shown={needle.of.shown} />}
            <Rings scene={scene} at={frame ? sure(frame[0]) : null} last={last} />
            <div className="stack">
              <p className={shown.warned ? "rig-said warned" : "rig-said"} role="status">
                {shown.said || say("Ready.")}
              </p>
              {open && run.advice && (
                <p className="rig-guide" data-press={run.press}>
                  <b className="head">{say("Next")}</b> {run.advice}
                </p>
              )}
            </div>
          </div>
          {scene.rig === "trace" && scene.picture && <CameOut picture={scene.picture} />}
          {scene.rig === "hold" && <Asked lines={scene.asked} found={scene.found} />}
          <Passes run={shown} />
          {shown.faults.length > 0 && (
            <div className="card pad stack">
              <h3>{say("What to do better")}</h3>
              <ul className="points">
                {shown.faults.map((f, i) => (
                  <li key={i} className={f.critical ? "rig-critical" : ""}>
                    {f.words}
                    {f.critical && <b>{say(" Not to standard any more.")}</b>}
                  </li>
                ))}
              </ul>
            </div>
          )}
          {open && <Cautions of={run.cautions} />}
          {open && run.count > 0 && <p className="small muted">{say("Kept after every action: you can leave and go on later.")}</p>}
          {!run.mine && <Link to="/rigs">{say("Back to the rigs")}</Link>}
        </aside>
      </div>
    </main>
  );
}

/** The table's handle: run it under the indicator and stop anywhere, also where one should not. */
function RunTo({ from, reach, busy, onRun }: { from: number; reach: number; busy: boolean; onRun: (at: number) => void }) {
  const [at, setAt] = useState(from);
  return (
    <label className="rig-run small">
      {say("Run the table to where you let go")}
      <Slider
        className="grow"
        min={-Math.floor(reach)}
        max={Math.floor(reach)}
        value={at}
        disabled={busy}
        onChange={setAt}
        onChangeComplete={(mm: number) => mm !== from && onRun(mm)}
        tooltip={{ formatter: (mm) => say("{mm} mm from the jaw's middle", { mm: mm ?? 0 }) }}
        ariaLabelForHandle={say("Run the table to")}
      />
    </label>
  );
}

function Asked({ lines, found }: { lines: readonly string[]; found: readonly Schema["SaidLine"][] }) {
  return (
    <div className="card pad stack">
      <h3>{say("The job")}</h3>
      <ul className="points">
        {lines.map((l) => (
          <li key={l}>{l}</li>
        ))}
      </ul>
      {found.map((f) => (
        <p key={f.words} className={f.weight === "hits" ? "error" : f.weight === "weak" ? "caution" : "small muted"}>
          {f.words}
        </p>
      ))}
    </div>
  );
}

function Passes({ run }: { run: Run }) {
  // cells of words stand left, readings right
  const plain = run.standard > 0;
  return (
    <div className="card">
      <Lines
        className="rig-passes"
        rows={run.passes}
        rowKey={(p) => run.passes.indexOf(p)}
        rowClassName={(p) => (p === run.passes.at(-1) ? "on" : "")}
        columns={[
          {
            key: "pass",
            title: say("Pass"),
            render: (_, p, i) => (
              <>
                {i + 1}
                {p.tight && plain && <span className="small muted">{say(" tight")}</span>}
              </>
            ),
          },
          ...run.heads.map((head, j) => ({
            key: head,
            title: head,
            className: plain && (j > 0 || run.rig === "vise") ? "num" : "",
            render: (_: unknown, p: Run["passes"][number]) => p.cells[j],
          })),
        ]}
      />
      {plain && <Convergence off={run.passes.map((p) => p.off)} standard={run.standard} best={run.result?.best.map((p) => p.off)} />}
    </div>
  );
}

function Cautions({ of }: { of: Run["cautions"] }) {
  return (
    <>
      {of.slice(0, 2).map((c) => (
        <p key={c.happens} className="caution small">
          <b>{say("At the machine: {happens}", { happens: c.happens })}</b> {c.do}
        </p>
      ))}
    </>
  );
}
