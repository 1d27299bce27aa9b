import type { Schema } from "../../api/client";

type May = Schema["MayView"];
const LOOK: Record<Schema["Answer"], { word: string; colour: string; shape: string }> = {
  allowed: { word: "yes", colour: "var(--good)", shape: "M4 12 10 18 20 6" },
  with_assessor: { word: "with an assessor", colour: "var(--brass)", shape: "M4 20V10H10V20M14 20V6H20V20" },
  refused: { word: "no", colour: "var(--bad)", shape: "M5 12H19" },
};

/** What may be done on which machine now, each answer with its reason. */
export function MayTable({ may, own }: { may: readonly May[]; own: boolean }) {
  const machines = [...new Set(may.map((m) => m.machine))];
  const operations = [...new Set(may.map((m) => m.operation))];
  const reasons = [...new Set(may.flatMap((m) => m.reasons.map((r) => `${m.machine}: ${r}`)))];
  return (
    <div className="card pad stack">
      <h3>{own ? "What I may do now" : "What he may do now"}</h3>
      <table className="lines may">
        <thead>
          <tr>
            <th>
              <span className="sr">Operation</span>
            </th>
            {machines.map((m) => (
              <th key={m} style={{ textAlign: "center" }}>
                {m}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {operations.map((o) => (
            <tr key={o}>
              <td>{o}</td>
              {machines.map((m) => {
                const found = may.find((x) => x.machine === m && x.operation === o);
                if (!found) return <td key={m}>–</td>;
                const look = LOOK[found.answer];
                return (
                  <td key={m} title={found.reasons.join(" ")}>
                    <svg width="22" height="22" viewBox="0 0 24 24" aria-hidden="true">
                      <path d={look.shape} fill="none" stroke={look.colour} strokeWidth="2.6" />
                    </svg>
                    <span className="small" style={{ display: "block", color: look.colour }}>
                      {look.word}
                    </span>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {reasons.length > 0 && (
        <details>
          <summary className="small">Why not everything</summary>
          <ul className="points small">
            {reasons.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
