import { sure } from "../shared/sure";
import { say } from "../shared/say";
const GRIPS = [say("loose"), say("at a drag"), say("half tight"), say("tight")];
const TILT = [
  ["top-left", -38, -42],
  ["top-right", 38, -42],
  ["bottom-left", -38, 38],
  ["bottom-right", 38, 38],
] as const;

/** The circle of the tip in the picture. */
const R = 78;

type Props = {
  degrees: number;
  down: boolean;
  lean: number;
  bow: number;
  grips?: Record<string, number>;
  nods: boolean;
  slots: readonly string[];
  parallels?: boolean;
  /** Words at the stations, as "front" → "next". */
  marks?: Record<string, string>;
  free?: boolean;
  said: string;
};

const PLACES: Record<string, [number, number]> = { right: [1, 0], rear: [0, -1], left: [-1, 0], front: [0, 1] };

/** The head from the front, from the side where it nods, and the table from above with the indicator's circle. */
export function HeadView(p: Props) {
  return (
    <svg viewBox="0 0 800 384" className="plan" role="img" aria-label={p.said}>
      <rect width="800" height="384" className="plan-ground" />
      <g transform="translate(128 0)">
        <text y="26" textAnchor="middle" className="plan-soft">
          {say("from the front")}
        </text>
        <Column lean={p.lean}>
          <rect x="-82" y="-74" width="164" height="148" rx="3" className="plan-body" />
          <circle r="6" className="plan-ball" />
          {TILT.map(([name, x, y]) => (
            <Bolt key={name} x={x} y={y} grip={p.grips?.[name]} />
          ))}
        </Column>
        <text x="-112" y="372" className="plan-soft">
          {p.free ? say("the knee is free") : "left"}
        </text>
        {!p.free && (
          <text x="112" y="372" textAnchor="end" className="plan-soft">
            {say("right")}
          </text>
        )}
      </g>
      {p.nods && (
        <g transform="translate(366 0)">
          <text y="26" textAnchor="middle" className="plan-soft">
            {say("from the right side")}
          </text>
          <Column lean={-p.bow} side>
            <rect x="-40" y="-74" width="80" height="148" rx="3" className="plan-body" />
            <path d="M40 -44H96V44H40z" className="plan-flange" />
            <Bolt x={66} y={-22} grip={p.grips?.["nod-left"]} beside="left" />
            <Bolt x={66} y={22} grip={p.grips?.["nod-right"]} beside="right" />
          </Column>
          <text x="-110" y="372" className="plan-soft">
            {say("front")}
          </text>
          <text x="112" y="372" textAnchor="end" className="plan-soft">
            {say("rear")}
          </text>
        </g>
      )}
      <g transform={`translate(${p.nods ? 650 : 540} 204)`}>
        <text y="-178" textAnchor="middle" className="plan-soft">
          {say("the table from above")}
        </text>
        <rect x="-128" y="-118" width="256" height="236" className="plan-table" />
        {[-74, 0, 74].map((y) => (
          <rect key={y} x="-128" y={y - 8} width="256" height="16" className="plan-slot" />
        ))}
        {p.slots.map((s) => {
          const [x, y] = sure(PLACES[s]);
          return <rect key={s} x={x * R - 30} y={y * R - 14} width="60" height="28" className="plan-slot deep" />;
        })}
        <circle r={R} className="head-path" />
        {Object.entries(PLACES).map(([name, [x, y]]) => (
          <g key={name} transform={`translate(${x * R} ${y * R})`}>
            {p.parallels && <rect x="-22" y="-8" width="44" height="16" className="plan-parallel" />}
            <circle r="6" className={p.marks?.[name] ? "head-station on" : "head-station"} />
            <text x={x * 18} y={y * 24 + 5 - (y === 0 ? 16 : 0)} textAnchor={x === 0 ? "middle" : x > 0 ? "start" : "end"} className="plan-name">
              {name}
            </text>
            {p.marks?.[name] && (
              <text y={y === 0 ? 27 : y * -20 + 5} textAnchor="middle" className="head-aim">
                {p.marks[name]}
              </text>
            )}
          </g>
        ))}
        <g transform={`rotate(${-p.degrees})`}>
          <path d="M0 0H66" className="head-arm" />
          <circle cx={R} r="13" className={p.down ? "plan-case" : "plan-case up"} />
          <circle cx={R} r="4" className={p.down ? "plan-ball" : "head-station"} />
        </g>
        <circle r="12" className="plan-case" />
        <text y="142" textAnchor="middle" className="plan-soft">
          {say("you stand here")}
        </text>
      </g>
    </svg>
  );
}

function Column({ lean, side, children }: { lean: number; side?: boolean; children: React.ReactNode }) {
  const degrees = (lean * 180) / Math.PI;
  return (
    <>
      <rect x="-112" y="330" width="224" height="22" className="plan-table edge" />
      <path d="M0 328V296" className="plan-scale dash" />
      {side && <path d="M92 66H112V330H92z" className="plan-flange" />}
      <g transform={`translate(0 122) rotate(${degrees})`}>
        <rect x="-26" y="60" width="52" height="86" className="plan-screw" />
        <rect x="-15" y="146" width="30" height="34" className="plan-jaw" />
        <path d="M0 -100V190" className="plan-centre" />
        {children}
      </g>
    </>
  );
}

function Bolt({ x, y, grip, beside }: { x: number; y: number; grip?: number | undefined; beside?: string }) {
  return (
    <g transform={`translate(${x} ${y})`} className={grip === 0 ? "bolt bolt-loose" : "bolt"}>
      <circle r="13" />
      <path d="M-7 0 -3.5 -6H3.5L7 0 3.5 6H-3.5z" />
      {grip !== undefined && (
        <text x={beside ? 18 : 0} y={beside ? 5 : 28} textAnchor={beside ? "start" : "middle"}>
          {beside && `${beside} `}
          {GRIPS[grip]}
        </text>
      )}
    </g>
  );
}
