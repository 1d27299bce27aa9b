import { Button } from "antd";
import type { Schema } from "../../api/client";
import { Explained } from "../../shared/Explained";
import { say, sayMany } from "../../shared/say";
import { Mark } from "./Strip";

type Fault = Schema["PlanFaultView"];

/** What is wrong, the worst first; those of the chosen frame before the others. */
export function Findings(p: { found: readonly Fault[]; chosen: string; onGo: (id: string) => void; onCure: ((f: Fault) => void) | null }) {
  const here = p.found.filter((f) => (f.operation || f.holding) === p.chosen);
  const others = p.found.filter((f) => !here.includes(f));
  return (
    <section className="stack plan-findings" aria-label={say("What would go wrong")}>
      {p.found.length === 0 && (
        <p className="plan-sound">
          <b>{say("Nothing is in the way.")}</b> {say("No finding stands against this plan so far.")}
        </p>
      )}
      {here.map((f) => (
        <One key={f.code + f.operation + f.holding + f.words} fault={f} {...p} />
      ))}
      {others.length > 0 && here.length > 0 && <h3>{sayMany("{count} more in other places", "{count} more in other places", others.length)}</h3>}
      {others.map((f) => (
        <One key={f.code + f.operation + f.holding + f.words} fault={f} {...p} />
      ))}
    </section>
  );
}

function One(p: { fault: Fault; chosen: string; onGo: (id: string) => void; onCure: ((f: Fault) => void) | null }) {
  const f = p.fault;
  const at = f.operation || f.holding;
  return (
    <article className={`plan-finding ${f.weight}`} data-code={f.code}>
      <div className="plan-finding-head">
        <Mark weight={f.weight} />
        <b className="grow">{f.title}</b>
        {at && at !== p.chosen && (
          <Button type="link" size="small" onClick={() => p.onGo(at)}>
            {say("Show where")}
          </Button>
        )}
      </div>
      <p>{f.words}</p>
      <p className="small muted">
        <Explained text={f.why} />
      </p>
      <div className="plan-cure">
        <span className="grow">{f.cure}</span>
        {f.button && p.onCure && (
          <Button size="large" onClick={() => p.onCure?.(f)}>
            {say("Apply")}
          </Button>
        )}
      </div>
    </article>
  );
}
