import type { Schema } from "../api/client";
import { say } from "./say";

export type State = Schema["State"];

export const STATE_WORDS: Record<State, string> = {
  locked: say("locked"),
  open: say("open"),
  ready: say("ready to be seen"),
  signed: say("signed"),
  due_soon: say("due soon"),
  lapsed: say("lapsed"),
  suspended: say("suspended"),
  withdrawn: say("withdrawn"),
};

export const STATE_COLOURS: Record<State, string> = {
  locked: "var(--muted)",
  open: "var(--blue)",
  ready: "var(--brass)",
  signed: "var(--good)",
  due_soon: "var(--brass)",
  lapsed: "var(--bad)",
  suspended: "var(--bad)",
  withdrawn: "var(--bad)",
};

/** A scribed square that is filled as the skill is gained and struck through when it is lost. */
const SHAPES: Record<State, string> = {
  locked: "M4 4H20V20H4Z",
  open: "M4 4H20V20H4ZM4 20 20 4",
  ready: "M4 4H20V20H4ZM4 20 20 4M4 12 12 4M12 20 20 12",
  signed: "M4 4H20V20H4ZM7 12 11 16 17 8",
  due_soon: "M4 4H20V20H4ZM12 8V12L15 15",
  lapsed: "M4 4H20V20H4ZM8 8H16M8 12H16M8 16H16",
  suspended: "M4 4H20V20H4ZM9 8V16M15 8V16",
  withdrawn: "M4 4H20V20H4ZM8 8 16 16M16 8 8 16",
};

export function StateMark({ state, size = 22 }: { state: State; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 24 24" role="img" aria-label={STATE_WORDS[state]} className="mark-icon">
      <path d={SHAPES[state]} fill="none" stroke={STATE_COLOURS[state]} strokeWidth={state === "locked" ? 1.2 : 2.2} />
    </svg>
  );
}
