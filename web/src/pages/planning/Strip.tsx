import { Button, Select } from "antd";
import { useEffect, useRef } from "react";
import type { Schema } from "../../api/client";
import { PlanFrame } from "../../instruments/PlanFrame";
import { say } from "../../shared/say";
import { placed, shifted } from "./edit";
import type { Building, Look } from "./usePlan";

type Fault = Schema["PlanFaultView"];

/** What weighs most of several findings, as a mark at a frame. */
export function worst(found: readonly Fault[]): "breaks" | "spoils" | "costs" | "" {
  for (const weight of ["breaks", "spoils", "costs"] as const) if (found.some((f) => f.weight === weight)) return weight;
  return "";
}

/** The part before every operation, under the holdings; frames are chosen, and moved by dragging or with Alt and arrows. */
export function Strip(p: {
  building: Building;
  look: Look;
  chosen: string;
  editable: boolean;
  faces: readonly Schema["KeyWords"][];
  onChoose: (id: string) => void;
}) {
  const { building, look, chosen, editable } = p;
  let number = 0;
  const numbers = new Map(look.stages.map((s) => [s.id, ++number]));
  const move = (event: React.KeyboardEvent, id: string) => {
    if (!editable || !event.altKey || (event.key !== "ArrowLeft" && event.key !== "ArrowRight")) return;
    event.preventDefault();
    building.change(shifted(building.plan, id, event.key === "ArrowLeft" ? -1 : 1));
  };
  const strip = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // the chosen frame is brought into the strip, and the page stays where it is
    const box = strip.current;
    const on = box?.querySelector<HTMLElement>(".plan-op.on, .plan-holding-title.on");
    if (!box || !on) return;
    const left = on.getBoundingClientRect().left - box.getBoundingClientRect().left + box.scrollLeft;
    if (left < box.scrollLeft || left + on.offsetWidth > box.scrollLeft + box.clientWidth) {
      box.scrollTo({ left: Math.max(0, left - box.clientWidth / 2) });
    }
  }, [chosen, look.stages.length]);
  return (
    <div className="plan-strip" ref={strip} role="group" aria-label={say("The plan, operation by operation")}>
      {look.holdings.map((h) => {
        const mine = look.findings.filter((f) => f.holding === h.id && !f.operation);
        return (
          <section
            key={h.id}
            className="plan-holding"
            onDragOver={(e) => editable && e.preventDefault()}
            onDrop={(e) => editable && building.change(placed(building.plan, e.dataTransfer.getData("text/plain"), h.id, null))}
          >
            <Button
              type="text"
              className={`plan-holding-title${chosen === h.id ? " on" : ""}`}
              aria-pressed={chosen === h.id}
              onClick={() => p.onChoose(h.id)}
            >
              {worst(mine) && <Mark weight={worst(mine)} />} {h.title}
            </Button>
            <div className="plan-frames">
              {h.operations.map((id) => {
                const s = look.stages.find((x) => x.id === id);
                const frame = building.frames?.frames.find((f) => f.operation === id);
                const mark = worst(look.findings.filter((f) => f.operation === id));
                if (!s) return null;
                const said = say("{number} {title}: {on}", { number: numbers.get(id), title: s.title, on: s.on });
                return (
                  <button
                    key={id}
                    type="button"
                    className={`plan-op${chosen === id ? " on" : ""}`}
                    aria-pressed={chosen === id}
                    data-operation={s.kind}
                    data-of={s.on}
                    draggable={editable}
                    onDragStart={(e) => e.dataTransfer.setData("text/plain", id)}
                    onDragOver={(e) => editable && e.preventDefault()}
                    onDrop={(e) => {
                      if (!editable) return;
                      e.stopPropagation();
                      building.change(placed(building.plan, e.dataTransfer.getData("text/plain"), h.id, id));
                    }}
                    onClick={() => p.onChoose(id)}
                    onKeyDown={(e) => move(e, id)}
                  >
                    <span className="plan-pic">{frame ? <PlanFrame frame={frame} said={said} /> : null}</span>
                    <span className="plan-op-words">
                      <b>
                        {numbers.get(id)} {s.title}
                        {mark && <Mark weight={mark} />}
                      </b>
                      <span className="small">{s.on || "\u00a0"}</span>
                    </span>
                  </button>
                );
              })}
              {h.operations.length === 0 && <span className="plan-empty small">{say("Nothing is done here yet: touch the part below.")}</span>}
            </div>
          </section>
        );
      })}
      {editable && (
        <section className="plan-holding plan-next">
          <span className="plan-next-title small">{say("Next holding")}</span>
          <Select
            className="plan-next-up"
            value={null}
            aria-label={say("Next holding: which face looks up?")}
            placeholder={say("Which face up?")}
            options={p.faces.map((f) => ({ value: f.key, label: say("{face} up", { face: f.words }) }))}
            onChange={(up: string | null) => {
              if (up) void building.act({ act: "hold", up: up as Schema["PlanHolding"]["up"], fixed: null });
            }}
          />
        </section>
      )}
    </div>
  );
}

/** What a finding weighs, drawn: never by colour alone. */
export function Mark({ weight }: { weight: string }) {
  const words: Record<string, string> = {
    breaks: say("hurts somebody or breaks something"),
    spoils: say("spoils the part"),
    costs: say("costs time or finish"),
    person: say("somebody must stand beside"),
  };
  return (
    <svg className={`plan-mark ${weight}`} viewBox="0 0 14 14" role="img" aria-label={words[weight] ?? ""}>
      {weight === "breaks" && <path d="M7 1 13 12.5H1Z M7 5V8.4M7 10v1" />}
      {weight === "spoils" && <path d="M2 2 12 12M12 2 2 12" />}
      {weight === "costs" && <path d="M7 1.2a5.8 5.8 0 1 0 .01 0M7 3.6V7.2L9.4 9" />}
      {weight === "person" && <path d="M7 1.5a2.6 2.6 0 1 0 .01 0M2 13c0-3.4 2-5 5-5s5 1.6 5 5" />}
    </svg>
  );
}
