import { Link } from "react-router";
import type { Schema } from "../../api/client";
import { when } from "../../shared/time";
import "./setup.css";
import { say } from "../../shared/say";

type State = Schema["SetupState"];

const NAMES = { head: say("Head"), vise: say("Vise"), hold: say("Work held") };
const WORDS = { none: say("not yet"), stands: say("good"), repeat: say("check again") };

/** How head, vise and holding stand now, each with its reason and the way to it. */
export function SetupStates({ states, to }: { states: readonly State[]; to: (s: State) => { href: string; words: string } | null }) {
  return (
    <ul className="setup-states">
      {states.map((s) => {
        const link = to(s);
        return (
          <li key={s.kind} className={`setup-${s.state}`} data-setup={s.kind} data-state={s.state}>
            <StandMark state={s.state} />
            <span className="grow">
              <b className="head">
                {NAMES[s.kind]}: {WORDS[s.state]}
              </b>
              <span className="small">{s.reason}</span>
              {s.words && (
                <span className="small muted">
                  {s.words}. {s.by}
                  {s.at && `, ${when(s.at)}`}
                </span>
              )}
            </span>
            {link && (
              <Link className={s.state === "stands" ? "button" : "button first"} to={link.href}>
                {link.words}
              </Link>
            )}
          </li>
        );
      })}
    </ul>
  );
}

/** A plumb line on a base: standing true, leaning, or nothing there yet. */
function StandMark({ state }: { state: State["state"] }) {
  return (
    <svg viewBox="0 0 28 28" width="28" height="28" aria-hidden="true" className="stand-mark">
      <path d="M3 25H25" />
      {state === "stands" && <path d="M14 25V4M9 9 14 4 19 9" />}
      {state === "repeat" && <path d="M14 25 21 6M21 6 15 8M21 6 23 12" />}
      {state === "none" && <path d="M14 25V4" strokeDasharray="3 3" />}
    </svg>
  );
}
