import { Button } from "antd";
import { say, sayMany } from "../shared/say";
import { again, discard, type Entry } from "./queue";

/** What waits in this browser because the server cannot be reached, and what the server did not take. */
export function WaitingEntries({ entries, outcome }: { entries: Entry[]; outcome: string }) {
  const refused = entries.filter((e) => e.refused);
  const waiting = entries.length - refused.length;
  return (
    <div className="no-print" data-waiting={waiting || undefined}>
      {waiting > 0 && outcome !== "empty" && (
        <p className="caution">
          <b>{sayMany("{count} entry waits in this browser.", "{count} entries wait in this browser.", waiting)}</b>{" "}
          {outcome === "signed-out"
            ? say("Sign in again with the same name and they are sent.")
            : say("The shop's server cannot be reached; they are sent automatically, in order, when it is back.")}
        </p>
      )}
      {refused.map((e) => (
        <p key={e.order} className="error row">
          <span className="grow">{say("{describe} was not accepted: {refused}", { describe: describe(e), refused: e.refused })}</span>
          <Button onClick={() => void again(e)}>{say("Send again")}</Button>
          <Button danger onClick={() => void discard(e)}>
            {say("Discard")}
          </Button>
        </p>
      ))}
    </div>
  );
}

function describe(e: Entry): string {
  if (e.kind === "reading" || e.kind === "check-reading") {
    return say("Reading {value} {unit} of characteristic {characteristic}", {
      value: e.body.value.slice(0, 24),
      unit: e.body.unit,
      characteristic: e.body.characteristic,
    });
  }
  if (e.kind === "sign") return say("What was noticed at the machine");
  if (e.kind === "run") return say("A step of the run card");
  return e.kind === "hand-in" ? say("The hand-in") : say("The tick");
}
