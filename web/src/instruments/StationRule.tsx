import type { Schema } from "../api/client";
import { say } from "../shared/say";

type Station = Schema["Station"];
type State = Schema["StationState"];

export const STATIONS: { id: Station; name: string }[] = [
  { id: "ready", name: say("Ready") },
  { id: "plan", name: say("Plan") },
  { id: "set_up", name: say("Set up") },
  { id: "locate", name: say("Locate") },
  { id: "cut", name: say("Cut") },
  { id: "measure", name: say("Measure") },
  { id: "sign", name: say("Sign") },
];

const SAID: Record<State, string> = {
  not_yet: say("not yet"),
  open: "now",
  doing: say("doing"),
  waiting: say("waiting"),
  done: say("done"),
  repeat: "repeat",
};

/** The seven stations as the engraved scale of a rule, with a pointer where the work stands. */
export function StationRule({
  stations,
  pointer,
  chosen,
  onChoose,
}: {
  stations: readonly { station: Station; state: State }[];
  pointer: number;
  chosen: Station;
  onChoose: (station: Station) => void;
}) {
  return (
    <div className="rule" role="tablist" aria-label={say("Stations")}>
      <Scale pointer={pointer} ticks={70} />
      <div className="rule-names">
        {STATIONS.map(({ id, name }) => {
          const state = stations.find((s) => s.station === id)?.state ?? "not_yet";
          return (
            <button key={id} role="tab" aria-selected={chosen === id} className={`rule-name rule-${state}`} onClick={() => onChoose(id)}>
              <span className="head">{name}</span>
              <span className="small">{SAID[state]}</span>
            </button>
          );
        })}
      </div>
    </div>
  );
}

/** The engraved scale itself; ``pointer`` runs from 0 to 7. */
export function Scale({ pointer, ticks }: { pointer: number; ticks: number }) {
  const share = Math.min(pointer, 7) / 7;
  const per = ticks / 7;
  return (
    <div className="scale" aria-hidden="true">
      {Array.from({ length: ticks + 1 }, (_, i) => {
        const length = i % per === 0 ? "long" : i % per === per / 2 ? "middle" : "";
        return <i key={i} className={`${length} ${i / ticks <= share + 0.001 ? "passed" : ""}`} style={{ left: `${(i / ticks) * 100}%` }} />;
      })}
      <b style={{ width: `${share * 100}%` }} />
      <svg width="20" height="12" viewBox="0 0 20 12" style={{ left: `${share * 100}%` }}>
        <path d="M0 0H20L10 12Z" fill="var(--blue)" />
      </svg>
    </div>
  );
}
