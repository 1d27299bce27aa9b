import "../look/pictures.css";
import type { Schema } from "../api/client";
import { say } from "../shared/say";

type Of = Schema["HoldingView"]["of"];

const W = 520;
const H = 150;
const BASE = 124;

/** Something that holds work, to scale with itself: a vise from its end, parallels and straps side by side. */
export function HoldingSketch({ of }: { of: Of }) {
  const said =
    of.kind === "vise"
      ? say("The vise opened as wide as it goes, seen from its end")
      : of.kind === "parallels"
        ? say("The pairs side by side, standing")
        : say("The straps, one above the other");
  return (
    <svg viewBox={`0 0 ${W} ${H}`} className="plan holding-sketch" role="img" aria-label={said}>
      {of.kind === "vise" && <ViseEnd depth={+of.depth} opening={+of.opening} swivel={of.swivel} unit={of.unit} />}
      {of.kind === "parallels" && <Bars sizes={of.pairs.map((p) => +p.height)} wide={of.pairs.map((p) => +p.thickness)} />}
      {of.kind === "clamps" && <Straps sizes={of.straps.map(Number)} unit={of.unit} />}
    </svg>
  );
}

const drawable = (sizes: readonly number[]) => sizes.length > 0 && sizes.every((n) => Number.isFinite(n) && n > 0);

function ViseEnd({ depth, opening, swivel, unit }: { depth: number; opening: number; swivel: boolean; unit: string }) {
  if (!drawable([depth, opening])) return null;
  // jaws as thick as they are deep: a picture, no measure
  const scale = Math.min((W - 80) / (opening + 3 * depth), 78 / depth);
  const [jaw, gap, high] = [1.2 * depth * scale, opening * scale, depth * scale];
  const left = (W - gap - 2 * jaw) / 2;
  return (
    <>
      <rect x={left - 14} y={BASE - 20} width={gap + 2 * jaw + 28} height={20} className="plan-body" />
      {swivel && <rect x={W / 2 - gap / 3} y={BASE} width={(2 * gap) / 3} height={12} className="plan-flange" />}
      <rect x={left} y={BASE - 20 - high} width={jaw} height={high} className="plan-jaw" />
      <rect x={left + jaw + gap} y={BASE - 20 - high} width={jaw} height={high} className="plan-moving" />
      <text x={left + jaw + gap / 2} y={BASE - 26 - high / 2} textAnchor="middle" className="plan-soft">
        {say("opens {opening} {unit}", { opening, unit })}
      </text>
      <text x={left + jaw / 2} y={BASE - 26 - high} textAnchor="middle" className="plan-soft">
        {say("{depth} {unit} deep", { depth, unit })}
      </text>
    </>
  );
}

function Bars({ sizes, wide }: { sizes: readonly number[]; wide: readonly number[] }) {
  if (!drawable(sizes)) return null;
  const step = Math.min(60, (W - 20) / sizes.length);
  const scale = 100 / Math.max(...sizes);
  return sizes.map((n, i) => {
    const thick = Math.max(5, Math.min(step - 8, (wide[i] ?? 0) * scale));
    const x = (W - step * sizes.length) / 2 + step * i + (step - thick) / 2;
    return (
      <g key={i}>
        <rect x={x} y={BASE - n * scale} width={thick} height={n * scale} className="plan-jaw" />
        <text x={x + thick / 2} y={BASE + 16} textAnchor="middle" className="plan-soft">
          {n}
        </text>
      </g>
    );
  });
}

function Straps({ sizes, unit }: { sizes: readonly number[]; unit: string }) {
  if (!drawable(sizes)) return null;
  const scale = 360 / Math.max(...sizes);
  const step = Math.min(34, (H - 10) / sizes.length);
  return sizes.map((n, i) => (
    <g key={i}>
      <rect x={20} y={8 + i * step} width={n * scale} height={step - 10} rx={3} className="plan-jaw" />
      <rect x={20 + 0.3 * n * scale} y={8 + i * step + (step - 10) / 3} width={0.4 * n * scale} height={(step - 10) / 3} className="plan-ground" />
      <text x={30 + n * scale} y={8 + i * step + (step - 10) / 2 + 5} className="plan-soft">
        {say("{length} {unit}", { length: n, unit })}
      </text>
    </g>
  ));
}
