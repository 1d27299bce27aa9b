import type { Characteristic } from "../../api/client";
import { Length } from "../../instruments/length";
import { SmallBar } from "../../instruments/ToleranceBar";
import { VerdictMark, LOOKS } from "../../instruments/verdict";
import { Drawn } from "./Entry";

/** All characteristics with where each reading lies; the chosen one is lit on the drawing too. */
export function CharacteristicList({
  all,
  chosen,
  waiting,
  onChoose,
}: {
  all: readonly Characteristic[];
  chosen: number;
  waiting: ReadonlySet<number>;
  onChoose: (number: number) => void;
}) {
  return (
    <table className="lines pointed">
      <thead>
        <tr>
          <th>No.</th>
          <th>Characteristic</th>
          <th className="num">Drawing</th>
          <th className="num">Reading</th>
          <th>Where it lies</th>
          <th>
            <span className="sr">Verdict</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {all.map((c) => (
          <tr
            key={c.number}
            className={c.number === chosen ? "on" : ""}
            tabIndex={0}
            data-row={c.number}
            onClick={() => onChoose(c.number)}
            onKeyDown={(e) => e.key === "Enter" && onChoose(c.number)}
          >
            <td>{c.number}</td>
            <td>
              {c.name}
              {c.rework && <span className="needs"> rework</span>}
              {waiting.has(c.number) && <span className="needs"> waiting</span>}
            </td>
            <td className="num">
              <Drawn c={c} />
            </td>
            <td className="num">
              <Length of={c.finding.value} bare />
            </td>
            <td>{c.finding.bar && <SmallBar pointers={[{ bar: c.finding.bar, verdict: c.finding.verdict }]} />}</td>
            <td>
              <span className="row" title={LOOKS[c.finding.verdict].word}>
                <VerdictMark verdict={c.finding.verdict} size={22} />
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
