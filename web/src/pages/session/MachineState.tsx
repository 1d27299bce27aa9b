import type { Schema } from "../../api/client";
import { say } from "../../shared/say";

type State = Schema["PlateState"];

export const MACHINE_WORDS: Record<State, string> = {
  closed: say("closed"),
  alarm: say("alarm"),
  runs: say("running"),
  "may-start": say("may start"),
  "in-use": say("in use"),
  free: say("free"),
  "not-open": say("not open"),
};

/** The mark of a machine's state: a shape of its own for each. */
export function MachineMark({ state, size = 18 }: { state: State; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 18 18" aria-hidden="true">
      {(state === "free" || state === "not-open") && (
        <circle cx="9" cy="9" r="7" fill="none" stroke="currentColor" strokeWidth="2" strokeDasharray={state === "free" ? "" : "3 3"} />
      )}
      {(state === "in-use" || state === "may-start") && (
        <path d="M9 2A7 7 0 1 1 8.9 2ZM9 5V9.5L12 11.5" fill="none" stroke="currentColor" strokeWidth="2" />
      )}
      {state === "runs" && (
        <path
          d="M3 9A6 6 0 0 1 14.5 6.5M15 9A6 6 0 0 1 3.5 11.5M14.5 2.5V6.5H10.5M3.5 15.5V11.5H7.5"
          fill="none"
          stroke="currentColor"
          strokeWidth="2"
        />
      )}
      {state === "alarm" && <path d="M9 1 17 16H1ZM9 6V11M9 13V14.5" fill="none" stroke="currentColor" strokeWidth="2" />}
      {state === "closed" && <path d="M3 3 15 15M15 3 3 15" fill="none" stroke="currentColor" strokeWidth="2.4" />}
    </svg>
  );
}
