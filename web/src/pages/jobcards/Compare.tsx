import { Lines } from "../../shared/Lines";
import type { Characteristic, Schema } from "../../api/client";
import { Length, ReadValue } from "../../instruments/length";
import { ToleranceBar, type Pointer } from "../../instruments/ToleranceBar";
import { VerdictWord } from "../../instruments/verdict";
import { useMe } from "../../shared/me";
import { Rich, say } from "../../shared/say";

/** Both people's values on one tolerance bar: the student's above, the assessor's below. */
export function Compare({ c, row, student }: { c: Characteristic; row: Schema["CheckRow"]; student: string }) {
  const me = useMe();
  const theirs = row.their_finding;
  const pointers: Pointer[] = [];
  if (theirs?.bar) pointers.push({ bar: theirs.bar, verdict: theirs.verdict, label: student.split(" ")[0] });
  if (row.my_finding.bar) pointers.push({ bar: row.my_finding.bar, verdict: row.my_finding.verdict, below: true, label: say("you") });
  const guard = me.school === "guard_band" ? (row.my_finding.bar?.sure ?? theirs?.bar?.sure ?? 0) : 0;
  return (
    <div className="stack">
      {!c.callout && (
        <ToleranceBar characteristic={{ ...c, upper: row.my_finding.upper ?? theirs?.upper ?? c.upper }} pointers={pointers} guard={guard} />
      )}
      <Lines
        rows={[
          { who: student, finding: theirs, readings: row.their_finding ? row.theirs : [] },
          { who: "you", finding: row.my_finding, readings: row.mine },
        ]}
        rowKey={(x) => x.who}
        showHeader={false}
        columns={[
          { key: "who", className: "nowrap", render: (_, x) => x.who },
          { key: "readings", className: "num", render: (_, x) => <Readings of={x.readings} /> },
          {
            key: "verdict",
            render: (_, x) => <Found finding={x.readings.length > 0 ? x.finding : null} readings={x.readings} />,
          },
        ]}
      />
      <Agreement agrees={row.agrees} />
    </div>
  );
}

function Readings({ of }: { of: readonly Schema["ReadingView"][] }) {
  if (of.length === 0) return <span className="muted">{say("not measured")}</span>;
  return (
    <>
      {of.map((r) => (
        <div key={r.id}>
          <ReadValue of={r} />
          {!r.blind && <span className="small muted">{say(" after seeing")}</span>}
        </div>
      ))}
    </>
  );
}

function Found({ finding, readings }: { finding: Schema["FindingView"] | null | undefined; readings: readonly Schema["ReadingView"][] }) {
  if (!finding) return null;
  return (
    <>
      <VerdictWord verdict={finding.verdict} />
      <span className="small muted">
        {finding.against} · {readings[0]?.instrument.name}
        {finding.sure && (
          <>
            {say(", sure to ±")}
            <Length of={finding.sure} />
          </>
        )}
      </span>
    </>
  );
}

export function Agreement({ agrees }: { agrees: boolean | null | undefined }) {
  if (agrees === null || agrees === undefined) return null;
  return agrees ? (
    <p className="is-good">{say("You agree within both uncertainties.")}</p>
  ) : (
    <p className="caution">
      <Rich
        text={
          "<b>You do not agree:</b> the difference is more than both uncertainties together. Measure it together, with clean faces, before you decide."
        }
        with={{ b: <b /> }}
      />
    </p>
  );
}
