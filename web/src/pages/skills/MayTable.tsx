import { Lines } from "../../shared/Lines";
import { Collapse } from "antd";
import type { Schema } from "../../api/client";
import { say } from "../../shared/say";

type May = Schema["MayView"];
const LOOK: Record<Schema["Answer"], { word: string; shape: string }> = {
  allowed: { word: say("yes"), shape: "M4 12 10 18 20 6" },
  with_assessor: { word: say("with an assessor"), shape: "M4 20V10H10V20M14 20V6H20V20" },
  refused: { word: say("no"), shape: "M5 12H19" },
};

/** What may be done on which machine now, each answer with its reason. */
export function MayTable({ may, own }: { may: readonly May[]; own: boolean }) {
  const machines = [...new Set(may.map((m) => m.machine))];
  const operations = [...new Set(may.map((m) => m.operation))];
  const reasons = [...new Set(may.flatMap((m) => m.reasons.map((r) => `${m.machine}: ${r}`)))];
  return (
    <div className="card pad stack">
      <h3>{own ? say("What I may do now") : say("What they may do now")}</h3>
      <Lines
        className="may"
        rows={operations.map((operation) => ({ operation }))}
        rowKey={(o) => o.operation}
        columns={[
          { key: "operation", title: <span className="sr">{say("Operation")}</span>, render: (_, o) => o.operation },
          ...machines.map((m) => ({
            key: m,
            title: m,
            align: "center" as const,
            render: (_: unknown, o: { operation: string }) => <MayCell may={may.find((x) => x.machine === m && x.operation === o.operation)} />,
          })),
        ]}
      />
      {reasons.length > 0 && (
        <Collapse
          size="small"
          items={[
            {
              key: "why",
              label: say("What is closed, and why"),
              children: (
                <ul className="points small">
                  {reasons.map((r) => (
                    <li key={r}>{r}</li>
                  ))}
                </ul>
              ),
            },
          ]}
        />
      )}
    </div>
  );
}

function MayCell({ may }: { may: May | undefined }) {
  if (!may) return "–";
  const look = LOOK[may.answer];
  return (
    <span title={may.reasons.join(" ")} className={`may-${may.answer}`}>
      <svg width="22" height="22" viewBox="0 0 24 24" aria-hidden="true">
        <path d={look.shape} fill="none" stroke="currentColor" strokeWidth="2.6" />
      </svg>
      <span className="small may-word">{look.word}</span>
    </span>
  );
}
