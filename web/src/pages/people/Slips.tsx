import { createPortal } from "react-dom";
import { say } from "../../shared/say";
import { clock, day } from "../../shared/time";

/** What a slip of paper lets somebody in by. */
export interface SlipOf {
  name: string;
  login: string;
  code: string;
  until: string;
}

/** What to do with a slip, in order. */
export function SlipSteps({ login }: { login: string }) {
  return (
    <ol className="points">
      <li>{say("Open {address} and choose “I have a code”.", { address: location.origin })}</li>
      <li>{say("Type the code, then choose a password of at least eight characters.")}</li>
      <li>{say("From then on you sign in as {login}.", { login })}</li>
    </ol>
  );
}

/** Until when a slip's code can be used. */
export function slipEnds(until: string): string {
  return say("It can be used once, until {day}, {time}.", { day: day(until), time: clock(until) });
}

/** Slips on paper, to be cut apart: printed instead of the page, and on no screen. */
export function Slips({ slips }: { slips: readonly SlipOf[] }) {
  return createPortal(
    <div className="slips">
      {slips.map((s) => (
        <section key={s.login} className="slip">
          <b>{s.name}</b>
          <p className="key" translate="no">
            {s.code}
          </p>
          <SlipSteps login={s.login} />
          <p className="small">{slipEnds(s.until)}</p>
        </section>
      ))}
    </div>,
    document.body,
  );
}
