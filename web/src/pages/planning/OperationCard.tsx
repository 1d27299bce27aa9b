import { Button, Input, Select } from "antd";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { api, body, type Schema } from "../../api/client";
import { Working } from "../../instruments/Working";
import { say } from "../../shared/say";
import { shifted, withOperation, withoutOperation } from "./edit";
import type { Building, Look } from "./usePlan";

type Stage = Schema["StageView"];
type Operation = Schema["PlanOperation"];
type Text = "x" | "y" | "z";

/** One operation: its cutter, its zeros, and every number with its working, to be changed. */
export function OperationCard(p: {
  assignment: string;
  building: Building;
  look: Look;
  stage: Stage;
  number: number;
  editable: boolean;
  remark: string;
}) {
  const { building, stage, editable } = p;
  const op = building.plan.holdings.flatMap((h) => h.operations).find((o) => o.id === stage.id);
  if (!op) return null;
  const set = (changed: Partial<Operation>) => building.change(withOperation(building.plan, op.id, changed));
  return (
    <section className="card pad stack plan-card" aria-label={stage.title}>
      <div className="plan-card-head">
        <h2>
          {p.number} · {stage.title}
        </h2>
        <span className="muted grow">{stage.on}</span>
      </div>
      {p.remark && <p className="caution">{say("Your instructor: {words}", { words: p.remark })}</p>}
      <div className="plan-rows">
        {stage.kind !== "deburr" && stage.kind !== "measure" && <CutterRow {...p} op={op} onTake={set} />}
        {stage.axes.map((axis, i) => (
          <div key={axis} className="plan-row">
            <span>{say("Zero {axis}", { axis: axis.toUpperCase() })}</span>
            <Select
              value={op[axis as Text] || null}
              disabled={!editable}
              aria-label={say("Zero {axis}", { axis: axis.toUpperCase() })}
              placeholder={say("from where?")}
              showSearch={{ optionFilterProp: "label" }}
              options={(stage.zeros[i] ?? []).map((z) => ({ value: z.key, label: z.words }))}
              onChange={(v: string | null) => set({ [axis]: v ?? "" })}
            />
          </div>
        ))}
        {stage.lines.map((line) => (
          <NumberRow key={line.name} line={line} op={op} editable={editable} onChange={set} />
        ))}
      </div>
      {editable && (
        <div className="row wraps">
          <Button onClick={() => building.change(shifted(building.plan, op.id, -1))}>{say("Earlier")}</Button>
          <Button onClick={() => building.change(shifted(building.plan, op.id, 1))}>{say("Later")}</Button>
          <span className="grow" />
          <Button danger onClick={() => building.change(withoutOperation(building.plan, op.id))}>
            {say("Remove")}
          </Button>
        </div>
      )}
    </section>
  );
}

/** The cutters that can do it first, then the others with the reason why not. */
function CutterRow(p: {
  assignment: string;
  building: Building;
  stage: Stage;
  op: Operation;
  editable: boolean;
  onTake: (changed: Partial<Operation>) => void;
}) {
  const { building, stage, op } = p;
  const thing = op.of[0] ?? "";
  const asked = useQuery({
    queryKey: ["plan-offers", p.assignment, building.machine, stage.holding, thing, op.kind],
    queryFn: () =>
      body(
        api.POST("/api/job-cards/{assignment}/plan/offers", {
          params: { path: { assignment: p.assignment } },
          body: { plan: building.plan, machine: building.machine, holding: stage.holding, name: thing },
        }),
      ),
    enabled: p.editable && thing !== "",
    retry: false,
  });
  const offers = asked.data?.offers.find((o) => o.kind === op.kind)?.cutters ?? [];
  return (
    <div className="plan-row">
      <span>{say("Cutter")}</span>
      {p.editable ? (
        <Select
          value={op.cutter || null}
          aria-label={say("Cutter")}
          placeholder={say("which one?")}
          showSearch={{ optionFilterProp: "label" }}
          popupMatchSelectWidth={420}
          options={offers.map((c) => ({ value: c.name, label: c.name, why: c.why_not, place: c.place }))}
          optionRender={(o) => (
            <span className="plan-cutter-option">
              <span>{o.label}</span>
              <span className="small muted">{(o.data as { why: string }).why || (o.data as { place: string }).place}</span>
            </span>
          )}
          onChange={(cutter: string | null) => p.onTake({ cutter: cutter ?? "", holder: "", speed: null, feed: null, depth: null, width: null })}
        />
      ) : (
        <b>{op.cutter || say("none")}</b>
      )}
    </div>
  );
}

const CHOICES: Record<string, readonly (readonly [string, string])[]> = {
  direction: [
    ["conventional", say("conventional")],
    ["climb", say("climb")],
  ],
  entry: [
    ["outside", say("from outside")],
    ["plunge", say("straight down")],
    ["ramp", say("down a ramp")],
    ["hole", say("in a drilled hole")],
  ],
};

/** One number: what it is, its working when it is opened, and a field to change it. */
function NumberRow(p: { line: Schema["NumberLine"]; op: Operation; editable: boolean; onChange: (changed: Partial<Operation>) => void }) {
  const { line, op } = p;
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState<string | null>(null);
  const typable = line.field === "speed" || line.field === "feed" || line.field === "depth" || line.field === "width";
  const choices = CHOICES[line.field];
  const given = line.field === "speed" ? (op.speed === null ? "" : String(op.speed)) : typable ? (op[line.field as "feed"] ?? "") : "";
  const take = () => {
    if (typed === null) return;
    const text = typed.trim();
    if (line.field === "speed") {
      const speed = Number(text);
      p.onChange({ speed: text === "" ? null : Number.isInteger(speed) ? speed : op.speed });
    } else p.onChange({ [line.field]: text === "" ? null : text });
    setTyped(null);
  };
  return (
    <div className="plan-number">
      <div className="plan-row">
        <span>{line.label}</span>
        <span className="plan-value">
          <b>{line.value}</b>
          {line.working.length > 0 && (
            <Button type="link" size="small" aria-expanded={open} onClick={() => setOpen(!open)}>
              {open ? say("Hide working") : say("Working")}
            </Button>
          )}
          {p.editable && choices && (
            <Select
              size="small"
              className="plan-choice"
              aria-label={say("Change: {label}", { label: line.label })}
              value={op[line.field as "entry"] || null}
              placeholder={say("change")}
              allowClear
              options={choices.map(([value, label]) => ({ value, label }))}
              onChange={(v: string | null | undefined) => p.onChange({ [line.field]: v ?? "" })}
            />
          )}
          {p.editable && line.field === "measure" && (
            <Button size="small" onClick={() => p.onChange({ measure: op.measure === false })}>
              {op.measure === false ? say("Measure before it") : say("Skip")}
            </Button>
          )}
          {p.editable && typable && typed === null && (
            <Button type="link" size="small" onClick={() => setTyped(given)}>
              {say("Change")}
            </Button>
          )}
        </span>
      </div>
      {typed !== null && (
        <div className="row plan-typed">
          <Input
            autoFocus
            inputMode="decimal"
            value={typed}
            maxLength={12}
            aria-label={say("Change: {label}", { label: line.label })}
            placeholder={say("empty: as Incudo fills it in")}
            onChange={(e) => setTyped(e.target.value)}
            onPressEnter={take}
            onKeyDown={(e) => e.key === "Escape" && setTyped(null)}
          />
          <Button type="primary" onClick={take}>
            {say("Apply")}
          </Button>
        </div>
      )}
      {open && <Working steps={line.working} />}
    </div>
  );
}
