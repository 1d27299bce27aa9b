import { sure } from "../../shared/sure";
import { Waiting } from "../../shared/Loading";
import { Fold } from "../../shared/Fold";
import { Button, Checkbox } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, body, newId, wordsFor, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { PartPlan } from "../../instruments/PartPlan";
import { Working } from "../../instruments/Working";
import { useAct } from "../../shared/useAct";
import { when } from "../../shared/time";
import { DatumList } from "./DatumList";
import { Plan } from "./Plan";
import { type Draft, type Drafts, start } from "./drafts";
import { DepthForm, EdgeForm, FlatForm, MiddleForm, RoundForm } from "./forms";
import "../../look/pictures.css";
import "../setup/setup.css";
import "./find.css";
import { say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Page = Schema["FindPage"];
type Kind = keyof Drafts;

const KINDS: Record<Kind, string> = {
  edge: say("An edge"),
  middle: say("Middle of two sides"),
  flat: say("Middle of a bar by a spot"),
  round: say("Bore or boss"),
  depth: say("Depth"),
};

/** Where the part lies under the spindle: touch, judge, keep as datum; and every place of the part from there. */
export default function FindPage() {
  const { assignment = "" } = useParams();
  const [cutter, setCutter] = useState("");
  const { data, error } = useQuery({
    ...queries.datums(assignment, cutter),
    placeholderData: (was: Page | undefined) => was,
  });
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  return <Find key={assignment} page={data} error={error ? wordsFor(error) : ""} onCutter={setCutter} />;
}

function Find({ page: p, error: wrong, onCutter }: { page: Page; error: string; onCutter: (c: string) => void }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [kind, setKind] = useState<Kind>("edge");
  const [drafts, setDrafts] = useState<Drafts>(() => start(p));
  const draft = drafts[kind];
  const set = (change: Partial<Draft>) => setDrafts((d) => ({ ...d, [kind]: { ...d[kind], ...change } }));
  const find = draft.ready(p) ? draft.find(p) : null;
  const { data: answer, error: refused } = useQuery({
    queryKey: ["find-check", p.assignment, find],
    queryFn: () =>
      body(
        api.POST("/api/job-cards/{assignment}/datums/check", {
          params: { path: { assignment: p.assignment } },
          body: { find: sure(find) },
        }),
      ),
    enabled: find !== null,
    retry: false,
  });
  const finder = p.finders.find((f) => f.id === draft.finder) ?? null;
  const unticked = draft.checks.filter((c) => !draft.ticked.includes(c));
  const keep = (zeroed: boolean) =>
    act(async () => {
      const fresh = await body(
        api.POST("/api/job-cards/{assignment}/datums", {
          params: { path: { assignment: p.assignment } },
          body: { id: newId(), find: sure(find), zeroed },
        }),
      );
      client.setQueryData(queries.datums(p.assignment).queryKey, fresh);
      void client.invalidateQueries({ predicate: (q) => q.queryKey[0] === "datums" || q.queryKey[0] === "job-card" });
      setDrafts((d) => ({ ...d, [kind]: start(p)[kind] }));
    });
  const forms = { edge: EdgeForm, middle: MiddleForm, flat: FlatForm, round: RoundForm, depth: DepthForm };
  const Form = forms[kind];
  const kinds = (Object.keys(KINDS) as Kind[]).filter((k) => k !== "flat" || p.outline.bar);
  return (
    <main className="page stack">
      <div className="between">
        <div>
          <h1>{say("Find the part: {name}", { name: p.name })}</h1>
          <p className="muted">{p.machine ? say("under the spindle of {name}", { name: p.machine.name }) : say("no machine yet")}</p>
        </div>
        <span className="row">
          {p.machine && (
            <Link className="button" to={`/machines/${p.machine.id}/moves`}>
              {say("Moves on {name}", { name: p.machine.name })}
            </Link>
          )}
          <Link className="button" to={`/job/${p.assignment}`}>
            {say("Back to the job card")}
          </Link>
        </span>
      </div>
      <div className="find-kinds" role="tablist">
        {kinds.map((k) => (
          <Button key={k} role="tab" aria-selected={kind === k} type={kind === k ? "primary" : "default"} onClick={() => setKind(k)}>
            {KINDS[k]}
          </Button>
        ))}
      </div>
      <div className="setup-columns wide">
        <div className="stack">
          <PartPlan
            outline={p.outline}
            faces={p.faces}
            face={kind === "edge" ? draft.face : null}
            feature={kind === "round" ? draft.feature : ""}
            finder={kind === "edge" ? finder : null}
            datums={p.datums}
            onFace={kind === "edge" ? (face) => set({ face }) : null}
            onFeature={kind === "round" ? (feature) => set({ feature }) : null}
          />
          {p.mine && (
            <fieldset className="card find-checks">
              <legend>{say("Before the touch")}</legend>
              {draft.checks.map((c) => (
                <Checkbox
                  key={c}
                  className="setup-tight"
                  checked={draft.ticked.includes(c)}
                  onChange={(e) => set({ ticked: e.target.checked ? [...draft.ticked, c] : draft.ticked.filter((x) => x !== c) })}
                >
                  <span>{c}</span>
                </Checkbox>
              ))}
            </fieldset>
          )}
          <section className="card">
            <DatumList datums={p.datums} missing={p.missing} />
          </section>
        </div>
        <div className="stack">
          <section className="card pad stack">
            <Form page={p} draft={draft} set={set} />
          </section>
          <Refused by={refused} />
          {answer && find && <Said answer={answer} />}
          <Refused words={error} />
          {p.mine && answer?.good && find && (
            <div className="stack">
              <Button type="primary" size="large" disabled={busy || unticked.length > 0} onClick={() => void keep(false)}>
                {unticked.length > 0 ? say("{count} of the list still open", { count: unticked.length }) : say("Save to the datum record")}
              </Button>
              {unticked.length === 0 && (
                <Button disabled={busy} onClick={() => void keep(true)}>
                  {say("I went there and set the {scale} to 0: save it", { scale: draft.scale })}
                </Button>
              )}
            </div>
          )}
        </div>
      </div>
      <Plan page={p} error={wrong} onCutter={onCutter} />
      {p.history.length > 0 && (
        <Fold title={say("Everything found for this part")}>
          <ul className="points">
            {p.history.map((h) => (
              <li key={h.id}>
                {h.words}{" "}
                <span className="small muted">
                  {h.by}, {when(h.at)}
                </span>
              </li>
            ))}
          </ul>
        </Fold>
      )}
    </main>
  );
}

/** The bar from its end, the finder beside it: whether the tip reaches the widest line before the body touches. */
function Clearance({ of: c }: { of: Schema["ClearanceView"] }) {
  const s = 150 / (c.bar + c.body + c.tip);
  const r = (c.bar / 2) * s;
  const x = -r - (c.tip / 2) * s;
  const low = -c.above * s;
  return (
    <svg
      viewBox="-190 -130 380 230"
      className="plan clearance"
      role="img"
      aria-label={c.clear ? say("The tip touches the bar first") : say("The body meets the bar, or the tip does not reach")}
    >
      <rect x="-190" y="-130" width="380" height="230" className="plan-ground" />
      <circle r={r} className="plan-body" />
      <path d="M-180 0H180" className="find-datum" />
      <rect x={x - (c.body / 2) * s} y={low - 90} width={c.body * s} height="90" className={c.clear ? "plan-jaw" : "clearance-hits"} />
      <rect x={x - (c.tip / 2) * s} y={low} width={c.tip * s} height={Math.min(c.reach * s, 90 - low)} className="find-tip" />
      <text x="180" y="-8" textAnchor="end">
        {say("widest line")}
      </text>
    </svg>
  );
}

function Said({ answer: a }: { answer: Schema["FindAnswer"] }) {
  return (
    <section className="card pad stack setup-next" role="status" data-good={a.good}>
      {a.clearance && <Clearance of={a.clearance} />}
      {a.wrong.map((x) => (
        <p key={x} className="error">
          {x}
        </p>
      ))}
      <ol className="points">
        {a.next.map((x) => (
          <li key={x}>{x}</li>
        ))}
      </ol>
      {a.notes.map((x) => (
        <p key={x} className="small muted">
          {x}
        </p>
      ))}
      {a.working.length > 0 && <Working steps={a.working} />}
    </section>
  );
}
