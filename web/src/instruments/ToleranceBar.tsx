import type { Schema, Verdict } from "../api/client";
import { LOOKS } from "./verdict";
import { textIn, useUnit } from "./length";
import { say } from "../shared/say";

type Bar = Schema["BarView"];
export type Pointer = { bar: Bar; verdict: Verdict; below?: boolean; label?: string; quiet?: boolean };

const W = 640;
const TOP = 34;
const H = 30;
const COLOURS = { good: "var(--good)", bad: "var(--bad)", brass: "var(--brass)", none: "var(--muted)" };

/**
 * Limits stand at a quarter and three quarters; values grow to the right. Each
 * pointer carries its uncertainty as a band; with a guard band the zones inside
 * the limits are hatched. A reading off the scale is pinned with its amount.
 */
export function ToleranceBar({
  characteristic: c,
  pointers,
  guard,
}: {
  characteristic: Pick<Schema["CharacteristicView"], "lower" | "upper" | "aim" | "metal">;
  pointers: Pointer[];
  guard: number;
}) {
  const unit = useUnit();
  const left = c.metal === "inside" ? say("metal left") : c.metal === "outside" ? say("metal gone") : say("too small");
  const right = c.metal === "inside" ? say("metal gone") : c.metal === "outside" ? say("metal left") : say("too large");
  const low = c.lower ? textIn(c.lower, unit) : c.upper ? "0" : "";
  const high = c.upper ? textIn(c.upper, unit) : "";
  const said = pointers
    .map((p) => `${p.label ?? say("reading")} ${LOOKS[p.verdict].word}${p.bar.off ? say(", {off} beyond", { off: p.bar.off }) : ""}`)
    .join("; ");
  const height = pointers.some((p) => p.below) ? 128 : 100;
  return (
    <svg
      viewBox={`0 0 ${W} ${height}`}
      width="100%"
      role="img"
      aria-label={say("Limits {low} to {high} {unit}. {said}", { low: low || "open", high: high || "open", unit, said })}
      className="tolerance-bar"
    >
      <defs>
        <pattern id="out" width="10" height="10" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V10" stroke="var(--bad)" strokeWidth="1.6" opacity=".55" />
        </pattern>
        <pattern id="guard" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
          <path d="M0 0V7" stroke="var(--brass)" strokeWidth="1.6" />
        </pattern>
      </defs>
      {c.lower && <rect x="0" y={TOP} width={W / 4} height={H} fill="url(#out)" />}
      {c.upper && <rect x={(W * 3) / 4} y={TOP} width={W / 4} height={H} fill="url(#out)" />}
      <rect x={W / 4} y={TOP} width={W / 2} height={H} fill="var(--good-light)" />
      {guard > 0 && c.lower && <rect x={W / 4} y={TOP} width={Math.min(guard, 0.25) * W} height={H} fill="url(#guard)" opacity=".6" />}
      {guard > 0 && c.upper && (
        <rect x={(0.75 - Math.min(guard, 0.25)) * W} y={TOP} width={Math.min(guard, 0.25) * W} height={H} fill="url(#guard)" opacity=".6" />
      )}
      {c.lower && <path d={`M${W / 4} ${TOP - 7}V${TOP + H + 7}`} stroke="var(--ink)" strokeWidth="2" />}
      {!c.lower && c.upper && <path d={`M${W / 4} ${TOP}V${TOP + H}`} stroke="var(--muted)" strokeDasharray="3 3" />}
      {c.upper && <path d={`M${(W * 3) / 4} ${TOP - 7}V${TOP + H + 7}`} stroke="var(--ink)" strokeWidth="2" />}
      {c.aim && <path d={`M${W / 2} ${TOP}V${TOP + H}`} stroke="var(--good)" strokeDasharray="4 4" strokeWidth="1.5" />}
      {c.lower && (
        <text x="2" y="16" fill="var(--bad)">
          {left}
        </text>
      )}
      {c.upper && (
        <text x={W - 2} y="16" textAnchor="end" fill="var(--bad)">
          {right}
        </text>
      )}
      <g fill="var(--ink)" textAnchor="middle">
        {low && (
          <text x={W / 4} y={TOP + H + 26}>
            {low}
          </text>
        )}
        {high && (
          <text x={(W * 3) / 4} y={TOP + H + 26}>
            {high}
          </text>
        )}
      </g>
      {c.aim && (
        <text x={W / 2} y={TOP + H + 26} textAnchor="middle" fill="var(--muted)">
          {say("aim {textIn}", { textIn: textIn(c.aim, unit) })}
        </text>
      )}
      {pointers.map((p, i) => (
        <PointerMark key={i} pointer={p} />
      ))}
    </svg>
  );
}

function PointerMark({ pointer: { bar, verdict, below, label, quiet } }: { pointer: Pointer }) {
  const x = Math.min(Math.max(bar.at * W, 11), W - 11);
  const colour = COLOURS[LOOKS[verdict].tone];
  const pinned = bar.off !== "";
  const band = Math.min(bar.sure, 0.5) * W;
  const tip = below ? `M${x} ${TOP + H}l-9 15h18z` : `M${x} ${TOP}l-9 -15h18z`;
  const anchor = bar.at > 0.5 ? "end" : "start";
  return (
    <g>
      {!pinned && <rect x={x - band} y={TOP + 3} width={Math.max(2 * band, 2)} height={H - 6} fill={colour} opacity=".28" />}
      <path d={`M${x} ${TOP}V${TOP + H}`} stroke={colour} strokeWidth="2" />
      <path d={tip} fill={colour} />
      {pinned && !quiet && (
        <text
          x={x + (anchor === "end" ? -14 : 14)}
          y={TOP + H / 2 + 5}
          textAnchor={anchor}
          fill={colour}
          fontWeight="700"
          stroke="var(--card)"
          strokeWidth="5"
          paintOrder="stroke"
        >
          {say("{off} beyond", { off: bar.off })}
        </text>
      )}
      {label && (
        <text x={x + (anchor === "end" ? -14 : 14)} y={below ? TOP + H + 48 : TOP - 6} textAnchor={anchor} fill={colour}>
          {label}
        </text>
      )}
    </g>
  );
}

/** The small bar of a list: limits, and the pointer of each value. */
export function SmallBar({ pointers }: { pointers: Pointer[] }) {
  return (
    <svg viewBox="0 0 120 28" width="120" height="28" aria-hidden="true">
      <path d="M30 15H90" stroke="var(--line)" strokeWidth="2" />
      <path d="M30 8V22M90 8V22" stroke="var(--ink)" strokeWidth="2" />
      {pointers.map((p, i) => {
        const x = Math.min(Math.max(p.bar.at * 120, 6), 114);
        const colour = COLOURS[LOOKS[p.verdict].tone];
        return <path key={i} d={p.below ? `M${x} 16l-5 9h10z` : `M${x} 13l-5 -9h10z`} fill={colour} />;
      })}
    </svg>
  );
}
