import type { Schema } from "../../api/client";
import { say } from "../../shared/say";

/** The machine from above, who stands at it, who has the handles, and whether it turns. */
export function Plan({ plate }: { plate: Schema["Plate"] }) {
  const turning = plate.spindle;
  return (
    <div className="plan">
      <svg width="120" height="72" viewBox="-4 0 132 76" aria-hidden="true">
        <rect x="6" y="26" width="112" height="26" fill="none" stroke="currentColor" strokeWidth="1.6" />
        <path d="M6 34H118M6 44H118" stroke="var(--line)" strokeWidth="1.4" />
        <rect x="46" y="2" width="32" height="24" fill="none" stroke="currentColor" strokeWidth="1.6" />
        <rect x="42" y="31" width="34" height="16" fill="var(--card)" stroke="currentColor" strokeWidth="1.4" />
        <circle cx="62" cy="39" r="11" fill="none" stroke={plate.alarm ? "var(--bad)" : turning ? "var(--good)" : "var(--muted)"} strokeWidth="2.2" />
        {turning && (
          <path
            className="plan-turns"
            d="M62 28A11 11 0 0 1 73 39M70 36 73 40 77 37"
            fill="none"
            stroke={plate.alarm ? "var(--bad)" : "var(--good)"}
            strokeWidth="2.2"
          />
        )}
        <circle cx="2" cy="39" r="5" fill="none" stroke="currentColor" strokeWidth="1.4" />
        <circle cx="122" cy="39" r="5" fill="none" stroke="currentColor" strokeWidth="1.4" />
        <circle cx="62" cy="58" r="5" fill="none" stroke="currentColor" strokeWidth="1.4" />
      </svg>
      <span className="plan-people">
        {plate.stands.map((s) => (
          <span key={s.person.id} className={s.handles ? "head" : "muted"}>
            {s.person.name}
            {s.handles && plate.stands.length > 1 && <span className="at-handles">{say("at the handles")}</span>}
          </span>
        ))}
        {plate.stands.length === 0 && <span className="muted">{say("nobody at the machine")}</span>}
        {!plate.linked && <span className="small muted">{say("interlock stand-in: no link")}</span>}
      </span>
    </div>
  );
}
