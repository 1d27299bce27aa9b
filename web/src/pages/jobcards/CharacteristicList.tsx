import type { Characteristic } from "../../api/client";
import { Length } from "../../instruments/length";
import { SmallBar } from "../../instruments/ToleranceBar";
import { VerdictMark, LOOKS } from "../../instruments/verdict";
import { Drawn } from "./Entry";
import { Lines } from "../../shared/Lines";
import { say } from "../../shared/say";

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
    <Lines
      className="pointed"
      rows={all}
      rowKey={(c) => c.number}
      onRow={(c) => ({
        className: c.number === chosen ? "on" : "",
        tabIndex: 0,
        "data-row": c.number,
        onClick: () => onChoose(c.number),
        onKeyDown: (e) => e.key === "Enter" && onChoose(c.number),
      })}
      columns={[
        { key: "0", title: say("No."), render: (_, c) => c.number },
        {
          key: "1",
          title: say("Characteristic"),
          render: (_, c) => (
            <>
              {c.name}
              {c.rework && <span className="needs">{say(" rework")}</span>}
              {waiting.has(c.number) && <span className="needs">{say(" waiting")}</span>}
            </>
          ),
        },
        { key: "2", title: say("Drawing"), className: "num", render: (_, c) => <Drawn c={c} /> },
        { key: "3", title: say("Reading"), className: "num", render: (_, c) => <Length of={c.finding.value} bare /> },
        {
          key: "4",
          title: say("Where it lies"),
          render: (_, c) => c.finding.bar && <SmallBar pointers={[{ bar: c.finding.bar, verdict: c.finding.verdict }]} />,
        },
        {
          key: "5",
          title: <span className="sr">{say("Verdict")}</span>,
          render: (_, c) => (
            <span className="row" title={LOOKS[c.finding.verdict].word}>
              <VerdictMark verdict={c.finding.verdict} size={22} />
            </span>
          ),
        },
      ]}
    />
  );
}
