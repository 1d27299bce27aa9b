import type { Schema } from "../../api/client";
import { Length } from "../../instruments/length";
import { SmallBar, type Pointer } from "../../instruments/ToleranceBar";
import { LOOKS, VerdictMark } from "../../instruments/verdict";

/** All characteristics of the check; the student's side stays empty until the comparison is open. */
export function Sheet({ sheet, chosen, onChoose }: { sheet: Schema["CheckSheet"]; chosen: number; onChoose: (n: number) => void }) {
  const shown = sheet.opened || sheet.decided;
  return (
    <table className="lines pointed">
      <thead>
        <tr>
          <th>No.</th>
          <th>Characteristic</th>
          {shown && <th className="num">Student</th>}
          <th className="num">You</th>
          {shown && <th>Where both lie</th>}
          <th>{shown ? "Of record" : ""}</th>
        </tr>
      </thead>
      <tbody>
        {sheet.rows.map((r) => {
          const c = sheet.card.characteristics.find((x) => x.number === r.number)!;
          const pointers: Pointer[] = [];
          if (r.their_finding?.bar) pointers.push({ bar: r.their_finding.bar, verdict: r.their_finding.verdict });
          if (r.my_finding.bar) pointers.push({ bar: r.my_finding.bar, verdict: r.my_finding.verdict, below: true });
          return (
            <tr
              key={r.number}
              className={r.number === chosen ? "on" : ""}
              tabIndex={0}
              data-row={r.number}
              onClick={() => onChoose(r.number)}
              onKeyDown={(e) => e.key === "Enter" && onChoose(r.number)}
            >
              <td>{r.number}</td>
              <td>
                {c.name} {r.proposed && !shown && <span className="needs">check this</span>}
                {r.agrees === false && <span className="needs">differ</span>}
              </td>
              {shown && (
                <td className="num">
                  <Length of={r.their_finding?.value} bare />
                </td>
              )}
              <td className="num">
                <Length of={r.my_finding.value} bare />
              </td>
              {shown && <td>{pointers.length > 0 && <SmallBar pointers={pointers} />}</td>}
              <td>
                {shown && r.of_record && (
                  <span className="row" title={LOOKS[r.of_record].word}>
                    <VerdictMark verdict={r.of_record} size={22} />
                  </span>
                )}
                {!shown && r.mine.length > 0 && <VerdictMark verdict={r.my_finding.verdict} size={22} />}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
