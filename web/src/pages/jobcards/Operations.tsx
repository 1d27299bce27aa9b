import { Button } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, body, newId, type JobCard, type Schema } from "../../api/client";
import { useAct } from "../../shared/useAct";
import { Light } from "../../shared/Light";
import { Lines } from "../../shared/Lines";
import { say } from "../../shared/say";

/** What is cut on this part, each operation with its answer, and the way to the machine. */
export function Operations({ card, own }: { card: JobCard; own: boolean }) {
  if (card.operations.length === 0) return null;
  return (
    <div className="stack">
      <h3>{own ? say("What you may do") : say("What they may do")}</h3>
      <Lines
        rows={card.operations}
        rowKey={(o) => o.operation}
        showHeader={false}
        columns={[
          { key: "0", title: "", render: (_, o) => <Light option={o} /> },
          {
            key: "1",
            title: "",
            render: (_, o) => (
              <>
                <b className="head">{o.name}</b>
                {o.reasons.map((r) => (
                  <div key={r} className="small muted">
                    {r}
                  </div>
                ))}
              </>
            ),
          },
        ]}
      />
      {own && card.machine && (
        <Link className="button" to={`/start/${card.machine.id}`}>
          {say("To {name}: I am about to start", { name: card.machine.name })}
        </Link>
      )}
    </div>
  );
}

/** Where the instructor is called before the work goes on. */
export function HoldPoints({ card, own }: { card: JobCard; own: boolean }) {
  if (card.holds.length === 0) return null;
  return (
    <div className="stack">
      <h3>{say("Hold points")}</h3>
      {card.holds.map((h) => (
        <Hold key={h.hold} card={card} hold={h} own={own} />
      ))}
    </div>
  );
}

function Hold({ card, hold: h, own }: { card: JobCard; hold: Schema["HoldView"]; own: boolean }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const call = () =>
    act(async () => {
      const about = { machine: card.machine?.id ?? null, assignment: card.assignment, words: "" };
      await body(api.POST("/api/calls", { body: { id: newId(), kind: "hold", what: h.hold, ...about } }));
      await client.invalidateQueries();
    });
  return (
    <div className="row hold" data-hold={h.hold}>
      <svg width="24" height="24" viewBox="0 0 24 24" aria-hidden="true">
        {h.released ? (
          <path d="M4 12 10 18 20 6" fill="none" stroke="var(--good)" strokeWidth="2.6" />
        ) : (
          <path d="M8 4V20M16 4V20" fill="none" stroke="var(--brass)" strokeWidth="3.4" />
        )}
      </svg>
      <span className="grow">
        {h.words} <span className="small muted">{say("set by the {set_by}", { set_by: h.set_by })}</span>
        {error && <span className="error small">{error}</span>}
      </span>
      {h.released && <span className="small">{say("released")}</span>}
      {!h.released && h.called && <span className="needs">{say("called")}</span>}
      {!h.released && !h.called && own && (
        <Button type="primary" disabled={busy} onClick={() => void call()}>
          {say("Call the instructor")}
        </Button>
      )}
    </div>
  );
}
