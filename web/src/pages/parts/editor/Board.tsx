import type { Schema } from "../../../api/client";
import { Plate } from "../../../instruments/Drawing";
import { say } from "../../../shared/say";

type Pick = Schema["PickView"];
/** A drawing with what can be touched on it, in its own units. */
type Touchable = { svg: string | null; width: number; height: number; picks: readonly Pick[] };

/** The plate on which the part appears, and over it everything that can be touched. */
export function Board(p: { draft: Touchable; chosen: readonly string[]; onTouch: (name: string) => void }) {
  const { draft, chosen, onTouch } = p;
  return (
    <div className="board">
      <Plate svg={draft.svg ?? ""} />
      <svg className="board-picks" viewBox={`0 0 ${draft.width} ${draft.height}`} role="group" aria-label={say("What can be touched")}>
        {draft.picks.map((pick, n) => (
          <Touch key={`${pick.name} ${n}`} pick={pick} on={chosen.includes(pick.name)} onTouch={onTouch} />
        ))}
      </svg>
    </div>
  );
}

function Touch({ pick, on, onTouch }: { pick: Pick; on: boolean; onTouch: (name: string) => void }) {
  const common = {
    className: `pick pick-${pick.kind}${on ? " on" : ""}`,
    "data-name": pick.name,
    onClick: () => onTouch(pick.name),
  };
  const title = <title>{pick.words}</title>;
  if (pick.kind === "line")
    return (
      <line {...common} x1={pick.x1} y1={pick.y1} x2={pick.x2} y2={pick.y2}>
        {title}
      </line>
    );
  if (pick.kind === "field")
    return (
      <rect
        {...common}
        x={Math.min(pick.x1, pick.x2)}
        y={Math.min(pick.y1, pick.y2)}
        width={Math.abs(pick.x2 - pick.x1)}
        height={Math.abs(pick.y2 - pick.y1)}
      >
        {title}
      </rect>
    );
  const radius = pick.kind === "ring" ? Math.abs(pick.x2 - pick.x1) : 5;
  return (
    <circle {...common} cx={pick.x1} cy={pick.y1} r={radius}>
      {title}
    </circle>
  );
}
