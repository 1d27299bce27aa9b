import type { Characteristic, Schema } from "../../api/client";
import { Length } from "../../instruments/length";
import { ToleranceBar, type Pointer } from "../../instruments/ToleranceBar";
import { VerdictWord } from "../../instruments/verdict";
import { useMe } from "../../shared/me";

/** Both people's values on one tolerance bar: the student's above, the assessor's below. */
export function Compare({ c, row, student }: { c: Characteristic; row: Schema["CheckRow"]; student: string }) {
  const me = useMe();
  const theirs = row.their_finding;
  const pointers: Pointer[] = [];
  if (theirs?.bar) pointers.push({ bar: theirs.bar, verdict: theirs.verdict, label: student.split(" ")[0] });
  if (row.my_finding.bar) pointers.push({ bar: row.my_finding.bar, verdict: row.my_finding.verdict, below: true, label: "you" });
  const guard = me.school === "guard_band" ? (row.my_finding.bar?.sure ?? theirs?.bar?.sure ?? 0) : 0;
  return (
    <div className="stack">
      <ToleranceBar characteristic={c} pointers={pointers} guard={guard} />
      <table className="lines">
        <tbody>
          <Line who={student} finding={theirs} readings={row.theirs} />
          <Line who="you" finding={row.my_finding} readings={row.mine} />
        </tbody>
      </table>
      <Agreement agrees={row.agrees} />
    </div>
  );
}

function Line({ who, finding, readings }: { who: string; finding: Schema["FindingView"] | null | undefined; readings: readonly Schema["ReadingView"][] }) {
  if (!finding || readings.length === 0) {
    return (
      <tr>
        <td>{who}</td>
        <td className="muted" colSpan={2}>
          not measured
        </td>
      </tr>
    );
  }
  return (
    <tr>
      <td style={{ whiteSpace: "nowrap" }}>{who}</td>
      <td className="num">
        {readings.map((r) => (
          <div key={r.id}>
            <Length of={r.value} />
            {!r.blind && <span className="small muted"> after seeing</span>}
          </div>
        ))}
      </td>
      <td>
        <VerdictWord verdict={finding.verdict} />
        <span className="small muted">
          {finding.against} · {readings[0]?.instrument.name}, sure to ±<Length of={finding.sure} />
        </span>
      </td>
    </tr>
  );
}

export function Agreement({ agrees }: { agrees: boolean | null | undefined }) {
  if (agrees === null || agrees === undefined) return null;
  return agrees ? (
    <p style={{ color: "var(--good)" }}>You agree within both uncertainties.</p>
  ) : (
    <p className="caution">
      <b>You do not agree:</b> the difference is more than both uncertainties together. Measure it together, with clean faces, before you decide.
    </p>
  );
}
