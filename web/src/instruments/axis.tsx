import type { LengthUnit } from "../api/client";
import { useUnit } from "./length";

/** One inch in mm, exactly: axes are laid out in mm and written in the unit that is shown. */
const INCH = 25.4;

/** Round steps up to a length, in mm, each with its text in a unit. */
export function steps(top: number, unit: LengthUnit, most = 3): { mm: number; text: string }[] {
  const one = unit === "in" ? INCH : 1;
  const raw = top / one / most;
  if (!(raw > 0)) return [];
  const power = Math.floor(Math.log10(raw));
  const step = ([1, 2, 5, 10].find((s) => s * 10 ** power >= raw * 0.999) ?? 10) * 10 ** power;
  const places = Math.max(0, -Math.floor(Math.log10(step) + 1e-9));
  const count = Math.floor(top / one / step + 1e-6);
  return Array.from({ length: count }, (_, i) => ({ mm: (i + 1) * step * one, text: ((i + 1) * step).toFixed(places) }));
}

/** The values of an upright axis of lengths: lines, numbers, and the unit above. ``both`` writes them below 0 too. */
export function Upright({ x, y, top, high, both = false }: { x: number; y: (mm: number) => number; top: number; high: number; both?: boolean }) {
  const unit = useUnit();
  const found = steps(top, unit);
  const all = [{ mm: 0, text: "0" }, ...found, ...(both ? found.map((s) => ({ mm: -s.mm, text: `−${s.text}` })) : [])];
  return (
    <g className="axis">
      {all.map((s) => (
        <g key={s.text}>
          <path d={`M${x - 5} ${y(s.mm)}H${x}`} className="plan-scale" />
          <text x={x - 8} y={y(s.mm) + 5} textAnchor="end">
            {s.text}
          </text>
        </g>
      ))}
      <text x={x} y={high} textAnchor="middle">
        {unit}
      </text>
    </g>
  );
}
