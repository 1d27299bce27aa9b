import type { Schema } from "../../api/client";
import { BoreView } from "../../instruments/BoreView";
import { Plate } from "../../instruments/Drawing";
import { EdgeView } from "../../instruments/EdgeView";
import { HeadView } from "../../instruments/HeadView";
import { HoldSection, StrapPicture } from "../../instruments/HoldSection";
import { PlanFrame } from "../../instruments/PlanFrame";
import { Reading } from "../../instruments/Readings";
import { Ring } from "../../instruments/Ring";
import { VisePlan } from "../../instruments/VisePlan";
import { WayView } from "../../instruments/WayView";
import { Lines } from "../../shared/Lines";
import { Rich, say } from "../../shared/say";

type Scene = Schema["RigRunView"]["scene"];
type Action = Schema["Action"];

const GRIPS = [say("loose"), say("snug"), say("half tight"), say("tight")];

type Props = { scene: Scene; at: number | null; reading: number | null; last: Action | null; moving: boolean };

/** The scene of any rig, drawn; ``at`` and ``reading`` are where the frames of the last action are now, if it moves. */
export function SceneView({ scene: s, at, reading, last, moving }: Props) {
  if (s.rig === "reading") return <Reading picture={s.picture} />;
  if (s.rig === "drawing") return <Plate svg={s.picture.svg} />;
  if (s.rig === "planning" || s.rig === "trace")
    return s.picture ? <Plate svg={s.picture.sheet} /> : <p className="muted pad">{say("Everything is answered.")}</p>;
  if (s.rig === "way") return <WayView picture={s.picture} />;
  if (s.rig === "handle") return <HandleScene scene={s} at={at} last={last} />;
  if (s.rig === "edge") {
    return (
      <div className="stack">
        <EdgeView scene={s} gap={reading ?? s.gap} moving={moving} />
        {s.parts.length > 0 && (
          <ul className="points">
            {s.parts.map((x) => (
              <li key={x.words}>
                <b>{x.off}</b>: {x.words}
              </li>
            ))}
          </ul>
        )}
      </div>
    );
  }
  if (s.rig === "bore") {
    const swings = last?.do === "swing" && moving;
    return <BoreView scene={s} turned={swings ? at : null} reading={swings ? reading : null} />;
  }
  if (s.rig === "vise") {
    const grips = say("left bolt {grips}, right bolt {grips2}", { grips: GRIPS[s.grips.left ?? 0], grips2: GRIPS[s.grips.right ?? 0] });
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
        tapped={last?.do === "tap" && last.on !== "moving" && moving ? { end: last.on, way: last.way } : null}
        long={s.long_parallel}
        readAlong={s.read_along}
        said={say("The vise from above: {grips}; the tip {value}; {hammer} hammer", {
          grips,
          value:
            s.reading === null
              ? say("does not touch")
              : `touches ${s.table < 0 ? say("near the left end") : s.table > 0 ? say("near the right end") : say("in the middle")}`,
          hammer: s.hammer,
        })}
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
        said={say("The head: indicator at the {at}, {value}; knee {value2}{value3}", {
          at: s.at,
          value: s.down ? say("touching") : say("lifted"),
          value2: s.clamped ? say("clamped") : say("free"),
          value3: s.isolated ? say("; spindle isolated") : "",
        })}
      />
    );
  }
  const hits = s.found.filter((f) => f.weight === "hits").map((f) => f.about);
  return (
    <div className="stack">
      <HoldSection
        section={s.section}
        hits={hits}
        moving={s.tight || s.section.bar}
        said={say("The part {value}, cut across; {value2}", {
          value: s.section.base > 0 ? say("on parallels") : say("on the bed"),
          value2: s.tight ? say("tight") : say("not tight"),
        })}
      />
      <div className="row small">
        <Chip on={s.stop !== ""}>{s.stop ? say("stop at the {stop}", { stop: s.stop }) : say("no stop")}</Chip>
        <Chip on={s.tight}>{s.tight ? say("tight") : say("not tight")}</Chip>
        {!s.strapped && <Chip on={s.slips === "held"}>{s.slips === "held" ? say("slips hold") : say("seat not tried")}</Chip>}
        {!s.strapped && s.rough && (
          <Chip on={s.section.bar}>{s.section.bar ? say("round bar at the rough face") : say("rough face at the moving jaw")}</Chip>
        )}
        {s.strapped && s.strap_side && (
          <Chip on>{say("{value} at the {strap_side}", { value: s.second ? say("two straps") : say("one strap"), strap_side: s.strap_side })}</Chip>
        )}
        <Chip on>{say("runs out at the {runs_out}", { runs_out: s.runs_out })}</Chip>
      </div>
      {s.strap && <StrapPicture strap={s.strap} />}
    </div>
  );
}

/** The part before one step of a plan, and the plan beside it. */
export function PlanStep({ picture: p }: { picture: Schema["PlanPicture"] }) {
  return (
    <div className="rig-plan">
      <PlanFrame frame={p} said={p.words} large />
      {p.lines.length > 0 && (
        <ol>
          {p.lines.map((line, n) => (
            <li key={line} className={n === p.at ? "on" : ""}>
              {line}
            </li>
          ))}
        </ol>
      )}
    </div>
  );
}

/** What came out beyond its limits, where the whole sheet stands far below the answers. */
export function OutOf({ picture: p }: { picture: Schema["TracePicture"] }) {
  return (
    <p className="rig-out-of">
      {p.lines
        .filter((l) => !l.good)
        .map((l) => (
          <span key={l.number}>
            <b>
              {l.number}: {l.read}
            </b>{" "}
            <span className="small">{l.limits}</span>
          </span>
        ))}
    </p>
  );
}

/** A part as it was measured, and what one has to know of the machine to say why. */
export function CameOut({ picture: p }: { picture: Schema["TracePicture"] }) {
  return (
    <>
      <div className="card">
        <Lines
          rows={p.lines}
          rowKey={(l) => l.number}
          rowClassName={(l) => (l.good ? "" : "rig-out")}
          columns={[
            { key: "number", title: say("No."), render: (_, l) => l.number },
            {
              key: "limits",
              title: say("Limits"),
              render: (_, l) => (
                <>
                  {l.limits}
                  {!l.good && <div className="small">{l.name}</div>}
                </>
              ),
            },
            { key: "read", title: say("Reading"), className: "num", render: (_, l) => <b>{l.read}</b> },
          ]}
        />
      </div>
      <ul className="points small">
        {p.facts.map((f) => (
          <li key={f}>{f}</li>
        ))}
      </ul>
    </>
  );
}

function Chip({ on, children }: { on: boolean; children: React.ReactNode }) {
  return <span className={on ? "rig-chip on" : "rig-chip"}>{children}</span>;
}

/** The rings of a scene that has some beside its picture; while one is turned it shows where it is now. */
export function Rings({ scene: s, at, last }: { scene: Scene; at: number | null; last: Action | null }) {
  const dials = s.rig === "edge" ? [s.dial] : s.rig === "bore" ? s.dials : [];
  return dials.map((d) => <OneRing key={d.axis} dial={d} at={last?.do === "turn" && last.on === d.axis ? at : null} last={last} />);
}

/** One handle of a rig: its ring, which way it was turned last, and what clockwise does there. */
function OneRing({ dial: d, at, last }: { dial: Schema["DialShown"]; at: number | null; last: Action | null }) {
  const part = d.axis === "knee" || d.axis === "quill" ? d.axis : "table";
  const turning = last?.do === "turn" && last.on === d.axis ? (last.way.startsWith("clockwise") ? "clockwise" : "anticlockwise") : null;
  return (
    <div className="rig-ring">
      <Ring handle={d} at={at ?? d.at} turning={turning} said={say("{axis} dial shows {shows}", { axis: d.axis, shows: d.shows })} />
      <p className="small">
        <Rich
          text={"<b>{axis}</b> shows <b2>{shows}</b2>; clockwise moves the {part} {clockwise}. {per_turn} a turn, divisions of {division}."}
          values={{ axis: d.axis.toUpperCase(), shows: d.shows, part, clockwise: d.clockwise, per_turn: d.per_turn, division: d.division }}
          with={{ b: <b />, b2: <b data-dial={d.axis} /> }}
        />
      </p>
    </div>
  );
}

function HandleScene({ scene: s, at, last }: { scene: Schema["HandleScene"]; at: number | null; last: Action | null }) {
  return (
    <div className="stack">
      <div className="rig-rings wide">
        <OneRing dial={s.dial} at={at} last={last} />
        <div className="stack grow">
          <p className="setup-big">{s.place || say("Every place is done")}</p>
          <p className="small">
            {say("Backlash {lost}, measured. The first place counts from the ring's zero, where it is at the beginning.", { lost: s.lost })}
          </p>
          {s.readout && (
            <p>
              <Rich text={"Readout of the table: <b>{readout}</b>"} values={{ readout: s.readout }} with={{ b: <b className="rig-readout" /> }} />
            </p>
          )}
          {s.stood.length > 0 && (
            <Lines
              rows={s.stood}
              rowKey={(x) => x.place}
              columns={[
                { key: "0", title: say("Place"), render: (_, x) => x.place },
                { key: "1", title: say("The table was at"), render: (_, x) => x.stood },
                {
                  key: "2",
                  title: say("off"),
                  onCell: (x) => ({ className: x.good ? "setup-in" : "setup-out" }),
                  render: (_, x) => (
                    <>
                      {x.off} {x.why && <span className="small">{x.why}</span>}
                    </>
                  ),
                },
              ]}
            />
          )}
        </div>
      </div>
    </div>
  );
}
