import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, Away, body, newId, wordsFor, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { say } from "../../shared/say";

export type Plan = Schema["Plan"];
export type Page = Schema["PlanPage"];
export type Look = Schema["PlanLook"];
export type Act = NonNullable<Schema["LookCommand"]["act"]>;
type Save = Schema["SavePlan"];

/** Milliseconds after which what was changed is looked at, and after which what waits is tried again. */
const PAUSE = 200;
const AGAIN = 4000;

type Kept = { number: number; plan: Plan; save: Save | null };

const keyOf = (person: string, assignment: string) => `incudo-plan-${person}-${assignment}`;

function kept(key: string): Kept | null {
  try {
    const text = localStorage.getItem(key);
    return text ? (JSON.parse(text) as Kept) : null;
  } catch {
    return null;
  }
}

/**
 * A plan that is being built: every change is kept in this browser at once, looked at by the server when it can be
 * reached, and saved when the person says so. Undo goes back step by step.
 */
export function usePlan(page: Page, person: string) {
  const key = keyOf(person, page.assignment);
  const client = useQueryClient();
  const [first] = useState(() => kept(key));
  // what was built on an older saved plan is shown as such and not mixed in
  const stale = first !== null && first.number !== page.number;
  const [plan, setPlan] = useState<Plan>(() => (first && !stale ? first.plan : (page.look?.plan ?? { format: "incudo-plan/1", holdings: [] })));
  const [past, setPast] = useState<readonly Plan[]>([]);
  const [look, setLook] = useState<Look | null>(first && !stale ? null : page.look);
  const [away, setAway] = useState(false);
  const [error, setError] = useState("");
  const [busy, setBusy] = useState(false);
  const [waiting, setWaiting] = useState<Save | null>(first && !stale ? first.save : null);
  const [dirty, setDirty] = useState(first !== null && !stale);
  const machine = page.machine?.id ?? page.look?.machine.id ?? null;
  const asked = useRef(0);

  const keep = useCallback(
    (next: Plan, save: Save | null) => {
      try {
        localStorage.setItem(key, JSON.stringify({ number: page.number, plan: next, save } satisfies Kept));
      } catch {
        // a browser that keeps nothing: the page itself still holds it
      }
    },
    [key, page.number],
  );

  const ask = useCallback(
    async (of: Plan, act: Act | null): Promise<boolean> => {
      const mine = ++asked.current;
      try {
        const found = await body(
          api.POST("/api/job-cards/{assignment}/plan/look", {
            params: { path: { assignment: page.assignment } },
            body: { plan: of, machine, act },
          }),
        );
        if (mine !== asked.current) return true;
        setLook(found);
        setAway(false);
        setError("");
        if (act) {
          setPast((p) => [...p.slice(-60), of]);
          setPlan(found.plan);
          setDirty(true);
          keep(found.plan, null);
        }
        return true;
      } catch (failed) {
        if (failed instanceof Away) setAway(true);
        else setError(wordsFor(failed));
        return false;
      }
    },
    [keep, machine, page.assignment],
  );

  const shown = look?.plan;
  useEffect(() => {
    if (shown !== undefined && JSON.stringify(shown) === JSON.stringify(plan)) return;
    const timer = setTimeout(() => void ask(plan, null), away ? AGAIN : PAUSE);
    return () => clearTimeout(timer);
  }, [plan, shown, ask, away]);

  /** Change the plan by hand: it is kept and looked at. */
  const change = (next: Plan) => {
    setPast((p) => [...p.slice(-60), plan]);
    setPlan(next);
    setDirty(true);
    setWaiting(null);
    keep(next, null);
  };

  /** A plan from a file: the server reads it and says what is wrong with it; only then it is on the page. */
  const take = async (text: string): Promise<void> => {
    let given: Plan;
    try {
      given = JSON.parse(text) as Plan;
    } catch {
      throw new Error(say("This file is no plan: it cannot be read as JSON."));
    }
    const found = await body(
      api.POST("/api/job-cards/{assignment}/plan/look", {
        params: { path: { assignment: page.assignment } },
        body: { plan: given, machine, act: null },
      }),
    );
    change(found.plan);
  };

  const undo = () => {
    const last = past.at(-1);
    if (!last) return;
    setPast(past.slice(0, -1));
    setPlan(last);
    setDirty(true);
    keep(last, null);
  };

  const send = useCallback(
    async (save: Save): Promise<boolean> => {
      setBusy(true);
      try {
        const fresh = await body(api.POST("/api/job-cards/{assignment}/plan", { params: { path: { assignment: page.assignment } }, body: save }));
        localStorage.removeItem(key);
        setWaiting(null);
        setDirty(false);
        setError("");
        client.setQueryData(queries.plan(page.assignment, "").queryKey, fresh);
        return true;
      } catch (failed) {
        if (failed instanceof Away) setAway(true);
        else {
          setWaiting(null);
          setError(wordsFor(failed));
        }
        return false;
      } finally {
        setBusy(false);
      }
    },
    [client, key, page.assignment],
  );

  /** Save what is on the page; while the network is away it waits here and is sent once. */
  const save = (): Promise<boolean> => {
    const command: Save = { id: newId(), number: page.number, plan, machine };
    setWaiting(command);
    keep(plan, command);
    return send(command);
  };

  useEffect(() => {
    if (!waiting || busy) return;
    const timer = setTimeout(() => void send(waiting), AGAIN);
    return () => clearTimeout(timer);
  }, [waiting, busy, send]);

  const drop = () => {
    localStorage.removeItem(key);
    if (page.look) setPlan(page.look.plan);
    setPast([]);
    setDirty(false);
    setWaiting(null);
  };

  const frames = useQuery({
    queryKey: ["plan-frames", page.assignment, machine, JSON.stringify(shown ?? null)],
    queryFn: () => planFrames(page.assignment, shown ?? plan, machine, ""),
    enabled: shown !== undefined && !away,
    placeholderData: (was: Schema["PlanFrames"] | undefined) => was,
    staleTime: Infinity,
  });

  return {
    plan, look, frames: frames.data, machine, away, error, busy, dirty, waiting: waiting !== null, stale: stale ? first : null,
    canUndo: past.length > 0, change, take, undo, act: (a: Act) => ask(plan, a), save, drop,
    takeOld: () => first && change(first.plan),
  }; // prettier-ignore
}

export type Building = ReturnType<typeof usePlan>;

/** The frames of a plan, one of them large. */
export function planFrames(assignment: string, plan: Plan, machine: string | null, large: string) {
  return body(api.POST("/api/job-cards/{assignment}/plan/frames", { params: { path: { assignment } }, body: { plan, machine, large } }));
}
