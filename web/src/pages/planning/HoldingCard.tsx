import { Button, Checkbox, Input, Select } from "antd";
import type { Schema } from "../../api/client";
import { HoldSection } from "../../instruments/HoldSection";
import { StrapsAbove } from "../../instruments/StrapsAbove";
import "../../look/pictures.css";
import { say } from "../../shared/say";
import { withHolding, withoutHolding } from "./edit";
import type { Building, Page } from "./usePlan";

type Holding = Schema["PlanHolding"];

/** How the work is held: what looks up, what lies at the fixed jaw, parallels, stop, the soft bar. */
export function HoldingCard(p: { building: Building; page: Page; held: Schema["HeldView"]; editable: boolean }) {
  const { building, page, held, editable } = p;
  const h = building.plan.holdings.find((x) => x.id === held.id);
  if (!h) return null;
  const set = (changed: Partial<Holding>) => building.change(withHolding(building.plan, h.id, changed));
  const field = (label: string, value: string, options: readonly Schema["KeyWords"][], change: (v: string) => void) => (
    <div className="plan-row">
      <span>{label}</span>
      <Select
        value={value}
        disabled={!editable}
        aria-label={label}
        options={options.map((o) => ({ value: o.key, label: o.words }))}
        onChange={change}
      />
    </div>
  );
  const stops = [
    { key: "", words: say("none") },
    { key: "left", words: say("left") },
    { key: "right", words: say("right") },
  ];
  const inVise = h.held !== "straps";
  return (
    <section className="card pad stack plan-card" aria-label={held.title}>
      <div className="plan-card-head">
        <h2>{held.title}</h2>
      </div>
      {held.section && <HoldSection section={held.section} hits={held.hits} said={held.words} plain />}
      {held.straps && <StrapsAbove straps={held.straps} said={held.words} />}
      <p className="muted">{held.words}</p>
      <div className="plan-rows">
        {field(say("Held in"), h.held, page.ways, (v) => set({ held: v as Holding["held"] }))}
        {field(h.held === "straps" ? say("At the rear") : say("At the fixed jaw"), h.fixed, held.fixed, (v) => set({ fixed: v as Holding["fixed"] }))}
        {h.held === "vise" && field(say("Parallels"), h.parallels, page.parallels, (v) => set({ parallels: v }))}
        {field(say("Work stop"), h.stop, stops, (v) => set({ stop: v as Holding["stop"] }))}
        {inVise && (
          <div className="plan-row">
            <span>{say("Out at the right")}</span>
            <Input
              key={h.out}
              defaultValue={h.out}
              disabled={!editable}
              inputMode="decimal"
              maxLength={10}
              suffix={page.unit}
              aria-label={say("How far it stands out beyond the jaws at the right")}
              onBlur={(e) => e.target.value.trim() !== h.out && set({ out: e.target.value.trim() || "0" })}
              onPressEnter={(e) => e.currentTarget.blur()}
            />
          </div>
        )}
      </div>
      {inVise && (
        <>
          <Checkbox disabled={!editable} checked={h.soft_bar} onChange={(e) => set({ soft_bar: e.target.checked })}>
            {say("Soft round bar at the moving jaw")}
          </Checkbox>
          <Checkbox disabled={!editable} checked={h.spacer} onChange={(e) => set({ spacer: e.target.checked })}>
            {say("A piece of the same width at the other end of the jaws")}
          </Checkbox>
        </>
      )}
      {editable && (
        <div className="row">
          <span className="grow" />
          <Button danger onClick={() => building.change(withoutHolding(building.plan, h.id))}>
            {say("Remove this holding")}
          </Button>
        </div>
      )}
    </section>
  );
}
