import type { Schema } from "../../api/client";
import { HeadView } from "../../instruments/HeadView";
import { HoldSection, StrapPicture } from "../../instruments/HoldSection";
import { VisePlan } from "../../instruments/VisePlan";

type Scene = Schema["RigRunView"]["scene"];
type Action = Schema["Action"];

const GRIPS = ["loose", "snug", "half tight", "tight"];

/** The scene of any rig, drawn; ``at`` is where the needle's frames are now, if it moves. */
export function SceneView({ scene: s, at, last, moving }: { scene: Scene; at: number | null; last: Action | null; moving: boolean }) {
  if (s.rig === "vise") {
    const grips = `left bolt ${GRIPS[s.grips.left ?? 0]}, right bolt ${GRIPS[s.grips.right ?? 0]}`;
    return (
      <VisePlan
        jaw={s.jaw}
        bolts={s.bolts}
        before={s.bolts_before}
        table={at ?? s.table}
        crooked={s.crooked}
        grips={s.grips}
        touched={s.reading !== null}
        hammer={s.hammer}
        tapped={last?.do === "tap" && last.on !== "moving" && moving ? { end: last.on ?? "", way: last.way ?? "" } : null}
        long={s.long_parallel}
        readAlong={s.read_along}
        said={`The vise from above: ${grips}; the tip ${s.reading === null ? "does not touch" : `touches ${s.table < 0 ? "near the left end" : s.table > 0 ? "near the right end" : "in the middle"}`}; ${s.hammer} hammer`}
      />
    );
  }
  if (s.rig === "head") {
    return (
      <HeadView
        degrees={at ?? s.degrees}
        down={s.down}
        lean={s.lean}
        bow={s.bow}
        grips={s.grips}
        nods={s.nods}
        slots={s.slots}
        parallels={s.parallels}
        free={!s.clamped}
        said={`The head: indicator at the ${s.at}, ${s.down ? "touching" : "lifted"}; knee ${s.clamped ? "clamped" : "free"}${s.isolated ? "; spindle isolated" : ""}`}
      />
    );
  }
  const hits = s.found.filter((f) => f.weight === "hits").map((f) => f.about);
  return (
    <div className="stack">
      <HoldSection section={s.section} hits={hits} moving={s.tight || s.section.bar} said={`The part ${s.section.base > 0 ? "on parallels" : "on the bed"}, cut across; ${s.tight ? "tight" : "not tight"}`} />
      <div className="row small">
        <Chip on={s.stop !== ""}>{s.stop ? `stop at the ${s.stop}` : "no stop"}</Chip>
        <Chip on={s.tight}>{s.tight ? "tight" : "not tight"}</Chip>
        {!s.strapped && <Chip on={s.slips === "held"}>{s.slips === "held" ? "slips hold" : "seat not tried"}</Chip>}
        {!s.strapped && s.rough && <Chip on={s.section.bar}>{s.section.bar ? "round bar at the rough face" : "rough face at the moving jaw"}</Chip>}
        {s.strapped && s.strap_side && <Chip on>{`strap at the ${s.strap_side}`}</Chip>}
        <Chip on>{`runs out at the ${s.runs_out}`}</Chip>
      </div>
      {s.strap && <StrapPicture strap={s.strap} />}
    </div>
  );
}

function Chip({ on, children }: { on: boolean; children: React.ReactNode }) {
  return <span className={on ? "rig-chip on" : "rig-chip"}>{children}</span>;
}
