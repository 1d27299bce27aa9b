import type { Verdict } from "../api/client";
import { say } from "../shared/say";

type Look = { tone: "good" | "bad" | "brass" | "none"; word: string };

export const LOOKS: Record<Verdict, Look> = {
  in: { tone: "good", word: say("in") },
  out_metal_left: { tone: "bad", word: say("out, metal left") },
  out_metal_gone: { tone: "bad", word: say("out, metal gone") },
  out: { tone: "bad", word: say("out") },
  too_close: { tone: "brass", word: say("too close to call") },
  not_measured: { tone: "none", word: say("not measured") },
};

const COLOURS = { good: "var(--good)", bad: "var(--bad)", brass: "var(--brass)", none: "var(--muted)" };
export const TONES = {
  good: { color: "var(--good)", background: "var(--good-light)" },
  bad: { color: "var(--bad)", background: "var(--bad-light)" },
  brass: { color: "var(--brass)", background: "var(--brass-light)" },
  none: { color: "var(--muted)", background: "transparent" },
};

/**
 * The drawn mark of a verdict: two limit lines with the pointer between, beyond
 * or on them. Metal left shows the chip still standing on the edge, metal gone
 * the bite out of it.
 */
const SHAPES: Record<Verdict, string> = {
  in: "M3 3V21M21 3V21M8 12 11 16 16.5 8",
  out_metal_left: "M3 3V21M3 21H21M8 21V9H16V21",
  out_metal_gone: "M3 3V21M3 9H8V16H16V9H21",
  out: "M3 3V21M8 8 18 18M18 8 8 18",
  too_close: "M12 3V9M12 15V21M5 12H19M8 9V15M16 9V15",
  not_measured: "M6 12H18",
};

export function VerdictMark({ verdict, size = 24 }: { verdict: Verdict; size?: number }) {
  const look = LOOKS[verdict];
  return (
    <svg width={size} height={size} viewBox="0 0 24 24" role="img" aria-label={look.word} className="mark-icon">
      <path d={SHAPES[verdict]} fill="none" stroke={COLOURS[look.tone]} strokeWidth="2.4" strokeLinejoin="round" />
    </svg>
  );
}

export function VerdictWord({ verdict }: { verdict: Verdict }) {
  const look = LOOKS[verdict];
  return (
    <span className="row verdict-word" style={{ color: COLOURS[look.tone] }}>
      <VerdictMark verdict={verdict} size={20} />
      <span className="verdict-said">{look.word}</span>
    </span>
  );
}
