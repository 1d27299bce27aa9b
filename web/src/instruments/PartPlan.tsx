import { sure } from "../shared/sure";
import type { Schema } from "../api/client";
import { say } from "../shared/say";

type Face = Schema["Face"];
type Props = {
  outline: Schema["OutlineView"];
  faces: readonly Schema["FaceView"][];
  face: Face | null;
  feature: string;
  finder: Schema["FinderView"] | null;
  datums: readonly Schema["DatumView"][];
  onFace: ((f: Face) => void) | null;
  onFeature: ((name: string) => void) | null;
};

const W = 760;
const H = 350;
const COMES: Record<Face, [number, number]> = {
  left: [1, 0],
  right: [-1, 0],
  front: [0, 1],
  rear: [0, -1],
  jaw: [0, 1],
  stop: [-1, 0],
};

/** The part in the vise from above: which face is touched, from which side the finder comes, half its tip, the datums. */
export function PartPlan({ outline: o, faces, face, feature, finder, datums, onFace, onFeature }: Props) {
  const [x0, x1, y0, y1] = [sure(o.x[0]), sure(o.x[1]), sure(o.y[0]), sure(o.y[1])];
  const s = Math.min(470 / (x1 - x0), 210 / (y1 - y0));
  const x = (mm: number) => W / 2 + (mm - (x0 + x1) / 2) * s;
  const y = (mm: number) => 186 - (mm - (y0 + y1) / 2) * s;
  const [left, right, front, rear] = [x(x0), x(x1), y(y0), y(y1)];
  const [mx, my] = [(left + right) / 2, (front + rear) / 2];
  // bands wide enough for a finger: x, y, width, height
  const edges: Record<Face, [number, number, number, number]> = {
    left: [left - 9, rear, 18, front - rear],
    right: [right - 9, rear, 18, front - rear],
    front: [left, front - 9, right - left, 18],
    rear: [left, rear - 9, right - left, 18],
    jaw: [left - 60, rear - 30, right - left + 120, 20],
    stop: [left - 30, front - 34, 20, 30],
  };
  const from: Record<Face, [number, number]> = {
    left: [left, my - 20],
    right: [right, my - 20],
    front: [mx, front],
    rear: [mx, rear],
    jaw: [right + 34, rear],
    stop: [left, front + 20],
  };
  const tip = finder ? Math.max((finder.tip_mm / 2) * s, 7) : 0;
  const chosen = face && finder ? { at: from[face], way: COMES[face] } : null;
  return (
    <svg viewBox={`0 0 ${W} ${H}`} className="plan part-plan" role="group" aria-label={say("The part from above; press the face that you touch.")}>
      <rect width={W} height={H} className="plan-ground" />
      <rect x={left - 70} y={rear - 36} width={right - left + 140} height="36" className="plan-jaw" />
      <text x={mx + 30} y={rear - 44} className="plan-soft">
        {say("fixed jaw, at the rear")}
      </text>
      <rect x={left - 34} y={front - 38} width="34" height="38" className="plan-jaw" />
      <text x={left - 40} y={front - 14} textAnchor="end" className="plan-soft">
        {say("stop")}
      </text>
      <rect x={left} y={rear} width={right - left} height={front - rear} className="plan-body" />
      {o.bar && <path d={`M${left} ${my}H${right}`} className="find-datum" />}
      {o.features.map((f) => (
        <circle
          key={f.name}
          cx={x(f.x)}
          cy={y(f.y)}
          r={Math.max(f.radius * s, 4)}
          className={`find-hole ${f.name === feature ? "on" : ""}`}
          {...(onFeature && { role: "button", tabIndex: 0, "aria-label": f.name, onClick: () => onFeature(f.name) })}
        />
      ))}
      {datums.map((d) =>
        d.axis === "x" ? (
          <g key="x">
            <path d={`M${x(d.part)} ${rear - 48}V${front + 24}`} className="find-datum" />
            <text x={x(d.part)} y={rear - 52} textAnchor="middle" className="find-datum-name">
              X
            </text>
          </g>
        ) : d.axis === "y" ? (
          <g key="y">
            <path d={`M${left - 80} ${y(d.part)}H${right + 80}`} className="find-datum" />
            <text x={right + 88} y={y(d.part) + 5} className="find-datum-name">
              Y
            </text>
          </g>
        ) : null,
      )}
      {onFace &&
        faces.map((f) => (
          <rect
            key={f.face}
            x={edges[f.face][0]}
            y={edges[f.face][1]}
            width={edges[f.face][2]}
            height={edges[f.face][3]}
            className={`find-face ${f.face === face ? "on" : ""}`}
            role="button"
            tabIndex={0}
            aria-label={f.words}
            aria-pressed={f.face === face}
            onClick={() => onFace(f.face)}
            onKeyDown={(e) => e.key === "Enter" && onFace(f.face)}
          />
        ))}
      {chosen && (
        <g transform={`translate(${chosen.at[0] - chosen.way[0] * tip} ${chosen.at[1] + chosen.way[1] * tip})`}>
          <circle r={tip} className="find-tip" />
          <circle r="2.5" className="ring-hub" />
          <g transform={`rotate(${chosen.way[0] < 0 ? 180 : chosen.way[1] > 0 ? -90 : chosen.way[1] < 0 ? 90 : 0})`}>
            <path d={`M${-tip - 64} 0H${-tip - 14}M${-tip - 14} 0l-11 -8M${-tip - 14} 0l-11 8`} className="find-come" />
            <path d={`M0 0V${-tip - 22}M${tip} 0V${-tip - 22}M0 ${-tip - 16}H${tip}`} className="find-half" />
          </g>
        </g>
      )}
      <text x="14" y={H - 14} className="plan-soft">
        {say("from above; you stand below the picture")}
      </text>
      {chosen && finder && (
        <text x={W - 14} y={H - 14} textAnchor="end">
          {say("half of {tip} lies between touch and edge", { tip: finder.tip })}
        </text>
      )}
    </svg>
  );
}
