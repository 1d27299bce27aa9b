import { useQuery } from "@tanstack/react-query";
import { api, body, wordsFor, type Schema } from "../../api/client";
import { Dialog } from "../../shared/Dialog";
import { Waiting } from "../../shared/Loading";
import { Lines } from "../../shared/Lines";
import { say, sayMany } from "../../shared/say";
import type { Building } from "./usePlan";

type Costs = Schema["CostsView"];

/** Incudo's own plan beside this one: what each costs, what differs; or why there is none. */
export function Compare({ assignment, building, onClose }: { assignment: string; building: Building; onClose: () => void }) {
  const { data, error } = useQuery({
    queryKey: ["plan-own", assignment, JSON.stringify(building.plan)],
    queryFn: () =>
      body(
        api.POST("/api/job-cards/{assignment}/plan/own", {
          params: { path: { assignment } },
          body: { plan: building.plan, machine: building.machine },
        }),
      ),
    retry: false,
  });
  return (
    <Dialog title={say("Beside Incudo's own plan")} wide onClose={onClose}>
      {!data && (error ? <p className="error">{wordsFor(error)}</p> : <Waiting />)}
      {data && !data.own && (
        <div className="stack">
          <p>
            <b>{say("Incudo finds no plan for this part on this machine:")}</b>
          </p>
          <ul>
            {data.reasons.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        </div>
      )}
      {data?.own && (
        <div className="stack">
          <Lines
            rows={rows(data.mine, data.own)}
            rowKey={(r) => r.name}
            columns={[
              { key: "name", title: say("What it costs"), render: (_, r) => r.name },
              { key: "mine", title: say("This plan"), className: "num", render: (_, r) => <b>{r.mine}</b> },
              { key: "own", title: say("Incudo's"), className: "num", render: (_, r) => r.own },
            ]}
          />
          <h3>{data.differences.length ? say("What differs") : say("Both do the same, in their own order.")}</h3>
          <ul className="plan-differences">
            {data.differences.map((d) => (
              <li key={d}>{d}</li>
            ))}
          </ul>
          <h3>{say("Incudo's way")}</h3>
          <ol>
            {data.reasons.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ol>
          <p className="small muted">{say("A proposal among several good ones. Your instructor decides.")}</p>
        </div>
      )}
    </Dialog>
  );
}

function rows(mine: Costs, own: Costs) {
  const worst = (c: Costs) => {
    const e = c.errors[0];
    return e ? say("{number}: {error} of {width}", { number: e.number, error: e.error, width: e.width }) : "–";
  };
  return [
    { name: say("Holdings"), mine: String(mine.holdings), own: String(own.holdings) },
    { name: say("Changes of cutter"), mine: String(mine.changes), own: String(own.changes) },
    { name: say("Time at the machine"), mine: minutes(mine.minutes), own: minutes(own.minutes) },
    { name: say("Tightest place, its error"), mine: worst(mine), own: worst(own) },
  ];
}

export function minutes(count: number): string {
  return sayMany("{count} minute", "{count} minutes", count);
}
