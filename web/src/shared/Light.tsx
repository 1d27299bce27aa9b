import type { Schema } from "../api/client";
import { say } from "./say";

const LOOK: Record<Schema["Answer"], { word: string; colour: string; shape: string }> = {
  allowed: { word: say("alone"), colour: "var(--good)", shape: "M4 12 10 18 20 6" },
  with_assessor: { word: say("with an assessor"), colour: "var(--brass)", shape: "M4 20V10H10V20M14 20V6H20V20" },
  refused: { word: say("not now"), colour: "var(--bad)", shape: "M5 12H19" },
};

/** The answer for one operation: a drawn mark and its word. */
export function Light({ option }: { option: { answer: Schema["Answer"] } }) {
  const look = LOOK[option.answer];
  return (
    <span className="light" style={{ color: look.colour }}>
      <svg width="24" height="24" viewBox="0 0 24 24" aria-hidden="true">
        <path d={look.shape} fill="none" stroke="currentColor" strokeWidth="2.6" />
      </svg>
      <span className="small">{look.word}</span>
    </span>
  );
}
