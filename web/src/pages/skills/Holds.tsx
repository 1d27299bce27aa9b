import { Button } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { api, body, newId, type Schema } from "../../api/client";
import { useAct } from "../../shared/useAct";
import { say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

export const HOLDS: { id: Schema["Hold"]; words: string }[] = [
  { id: "first_start", words: say("before the first start") },
  { id: "first_feed", words: say("before the first power feed") },
  { id: "last_pass", words: say("before the last pass") },
];

/** Hold points for a student, on all their job cards or on one. */
export function Holds({ student, assignment = null, set = [] }: { student: string; assignment?: string | null; set?: readonly string[] }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const turn = (hold: Schema["Hold"], on: boolean) =>
    act(async () => {
      await body(api.POST("/api/hold-points", { body: { id: newId(), student, assignment, hold, on } }));
      await client.invalidateQueries();
    });
  return (
    <div className="card pad stack">
      <h3>{assignment ? say("Hold points on this job card") : say("Hold points on all their job cards")}</h3>
      <p className="small muted">{say("There the student calls an instructor and cannot go on without them.")}</p>
      {HOLDS.map((h) => (
        <div key={h.id} className="row">
          <span className="grow">{h.words}</span>
          {(!assignment || !set.includes(h.id)) && (
            <Button disabled={busy} onClick={() => void turn(h.id, true)}>
              {say("Set")}
            </Button>
          )}
          {(!assignment || set.includes(h.id)) && (
            <Button disabled={busy} onClick={() => void turn(h.id, false)}>
              {say("Lift")}
            </Button>
          )}
        </div>
      ))}
      <Refused words={error} />
    </div>
  );
}
