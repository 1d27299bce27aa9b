import type { Schema } from "../../api/client";
import type { Plan } from "./usePlan";

type Operation = Schema["PlanOperation"];
type Holding = Schema["PlanHolding"];

/** A plan with fields of one operation changed. */
export function withOperation(plan: Plan, id: string, changed: Partial<Operation>): Plan {
  return each(plan, (h) => ({ ...h, operations: h.operations.map((o) => (o.id === id ? { ...o, ...changed } : o)) }));
}

/** A plan with fields of one holding changed. */
export function withHolding(plan: Plan, id: string, changed: Partial<Holding>): Plan {
  return each(plan, (h) => (h.id === id ? { ...h, ...changed } : h));
}

export function withoutOperation(plan: Plan, id: string): Plan {
  return each(plan, (h) => ({ ...h, operations: h.operations.filter((o) => o.id !== id) }));
}

export function withoutHolding(plan: Plan, id: string): Plan {
  return { ...plan, holdings: plan.holdings.filter((h) => h.id !== id) };
}

/** An operation one place earlier or later; over the end of a holding it goes into the next one. */
export function shifted(plan: Plan, id: string, by: -1 | 1): Plan {
  const at = plan.holdings.findIndex((h) => h.operations.some((o) => o.id === id));
  const from = plan.holdings[at];
  if (!from) return plan;
  const i = from.operations.findIndex((o) => o.id === id);
  const op = from.operations[i];
  if (!op) return plan;
  const to = i + by;
  if (to >= 0 && to < from.operations.length) {
    const rest = from.operations.filter((o) => o.id !== id);
    return withHolding(plan, from.id, { operations: [...rest.slice(0, to), op, ...rest.slice(to)] });
  }
  const next = plan.holdings[at + by];
  if (!next) return plan;
  const moved = by > 0 ? [op, ...next.operations] : [...next.operations, op];
  return withHolding(withoutOperation(plan, id), next.id, { operations: moved });
}

/** An operation put in before another one; without one, at the end of a holding. */
export function placed(plan: Plan, id: string, holding: string, before: string | null): Plan {
  const op = plan.holdings.flatMap((h) => h.operations).find((o) => o.id === id);
  if (!op || id === before) return plan;
  return each(withoutOperation(plan, id), (h) => {
    if (h.id !== holding) return h;
    const i = before === null ? h.operations.length : h.operations.findIndex((o) => o.id === before);
    const at = i < 0 ? h.operations.length : i;
    return { ...h, operations: [...h.operations.slice(0, at), op, ...h.operations.slice(at)] };
  });
}

function each(plan: Plan, change: (h: Holding) => Holding): Plan {
  return { ...plan, holdings: plan.holdings.map(change) };
}
