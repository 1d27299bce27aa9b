import type { Schema } from "../../api/client";
import { when } from "../../shared/time";
import "../setup/setup.css";
import "./find.css";
import { say } from "../../shared/say";

/** The datum record: over which place of the part what is shown, and whether that still stands. */
export function DatumList({ datums, missing }: { datums: readonly Schema["DatumView"][]; missing: readonly string[] }) {
  return (
    <ul className="setup-states datum-list">
      {datums.map((d) => (
        <li key={d.axis} className={d.stands ? "stands" : "again"} data-datum={d.axis} data-stands={d.stands}>
          <b className="setup-big">{d.axis.toUpperCase()}</b>
          <span className="grow">
            <b className="head">{d.words}</b>
            <span className={d.stands ? "small" : "small needs"}>{d.stands ? d.reason : say("Find it again: {reason}", { reason: d.reason })}</span>
            <span className="small muted">
              {d.by}, {when(d.at)}
            </span>
          </span>
        </li>
      ))}
      {missing.map((a) => (
        <li key={a}>
          <b className="setup-big muted">{a.toUpperCase()}</b>
          <span className="grow muted">{say("not found yet")}</span>
        </li>
      ))}
    </ul>
  );
}
