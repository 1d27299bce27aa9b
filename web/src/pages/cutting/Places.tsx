import type { Schema } from "../../api/client";
import { say, sayMany } from "../../shared/say";

type Go = Schema["GoView"];

/** Where the table goes: for each axis the way to turn, how far, and in large print what is read there. */
export function Places({ of }: { of: Go[] }) {
  if (of.length === 0) return null;
  return (
    <ol className="run-places">
      {of.map((g, n) => (
        <li key={n} className="run-place" data-axis={g.axis}>
          <b className="run-axis">{g.axis}</b>
          <span className="run-turns">
            {g.from_zero && <span className="muted">{say("Counted from the zero:")}</span>}
            {g.turns.map((t, i) => (
              <span key={i} className="run-turn">
                <Arrow clockwise={t.turning === "clockwise"} />
                <span>
                  {t.turns > 0 && <b>{sayMany("{count} turn", "{count} turns", t.turns)}</b>} {t.turns > 0 && t.divisions !== "0" && "+ "}
                  {(t.divisions !== "0" || t.turns === 0) && say("{divisions} divisions", { divisions: t.divisions })}
                  {t.takes_up && <span className="muted"> {say("takes up the backlash first")}</span>}
                </span>
              </span>
            ))}
            <span className="small muted">
              {g.handle}
              {g.rounding && ` · ${g.rounding}`}
            </span>
          </span>
          <span className="run-dial">
            <span className="small">{say("dial")}</span>
            <b>{g.reading}</b>
            {g.readout && (
              <>
                <span className="small">{say("readout")}</span>
                <b>{g.readout}</b>
              </>
            )}
          </span>
        </li>
      ))}
    </ol>
  );
}

/** Which way the handle goes round, as one looks at it. */
function Arrow({ clockwise }: { clockwise: boolean }) {
  return (
    <svg viewBox="0 0 48 48" className="run-arrow" role="img" aria-label={clockwise ? say("clockwise") : say("anticlockwise")}>
      <g transform={clockwise ? "" : "translate(48 0) scale(-1 1)"}>
        <path d="M10 30A16 16 0 1 1 36 35" />
        <path d="M40 26L35 38 26 30" />
      </g>
    </svg>
  );
}
