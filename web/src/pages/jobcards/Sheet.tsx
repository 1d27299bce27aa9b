import { Lines } from "../../shared/Lines";
import type { Schema } from "../../api/client";
import { Length } from "../../instruments/length";
import { SmallBar, type Pointer } from "../../instruments/ToleranceBar";
import { LOOKS, VerdictMark } from "../../instruments/verdict";
import { say } from "../../shared/say";

type Row = Schema["CheckSheet"]["rows"][number];

/** All characteristics of the check; the student's side stays empty until the comparison is open. */
export function Sheet({ sheet, chosen, onChoose }: { sheet: Schema["CheckSheet"]; chosen: number; onChoose: (n: number) => void }) {
  const shown = sheet.opened || sheet.decided;
  const of = (n: number) => sheet.card.characteristics.find((x) => x.number === n);
  return (
    <Lines
      className="pointed"
      rows={sheet.rows}
      rowKey={(r) => r.number}
      rowClassName={(r) => (r.number === chosen ? "on" : "")}
      onRow={(r) =>
        ({
          tabIndex: 0,
          "data-row": r.number,
          onClick: () => onChoose(r.number),
          onKeyDown: (e: React.KeyboardEvent) => e.key === "Enter" && onChoose(r.number),
        }) as React.HTMLAttributes<HTMLElement>
      }
      columns={[
        { key: "no", title: say("No."), render: (_, r) => r.number },
        {
          key: "name",
          title: say("Characteristic"),
          render: (_, r) => (
            <>
              {of(r.number)?.name} {r.proposed && !shown && <span className="needs">{say("check this")}</span>}
              {r.agrees === false && <span className="needs">{say("differ")}</span>}
            </>
          ),
        },
        ...(shown
          ? [
              {
                key: "student",
                title: say("Student"),
                className: "num",
                render: (_: unknown, r: Row) => <Length of={r.their_finding?.value} bare />,
              },
            ]
          : []),
        { key: "you", title: say("You"), className: "num", render: (_, r) => <Length of={r.my_finding.value} bare /> },
        ...(shown ? [{ key: "bar", title: say("Where both lie"), render: (_: unknown, r: Row) => <BothBars row={r} /> }] : []),
        { key: "record", title: shown ? say("Of record") : "", render: (_, r) => <Mark row={r} shown={shown} /> },
      ]}
    />
  );
}

function BothBars({ row: r }: { row: Row }) {
  const pointers: Pointer[] = [];
  if (r.their_finding?.bar) pointers.push({ bar: r.their_finding.bar, verdict: r.their_finding.verdict });
  if (r.my_finding.bar) pointers.push({ bar: r.my_finding.bar, verdict: r.my_finding.verdict, below: true });
  return pointers.length > 0 && <SmallBar pointers={pointers} />;
}

function Mark({ row: r, shown }: { row: Row; shown: boolean }) {
  if (shown)
    return (
      r.of_record && (
        <span className="row" title={LOOKS[r.of_record].word}>
          <VerdictMark verdict={r.of_record} size={22} />
        </span>
      )
    );
  return r.mine.length > 0 && <VerdictMark verdict={r.my_finding.verdict} size={22} />;
}
