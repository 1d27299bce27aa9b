import "../look/pictures.css";
import type { Schema } from "../api/client";
import { say } from "../shared/say";

type Of = Schema["HoldingView"]["of"];

const W = 520;
const H = 150;
const BASE = 124;

/** Something that holds work, to scale with itself. */
export function HoldingSketch({ of }: { of: Of }) {
  const said = {
    vise: say("The vise opened as wide as it goes, seen from its end"),
    parallels: say("The pairs side by side, standing"),
    clamps: say("The straps, one above the other"),
    "v-blocks": say("The V-block from its end, with the thinnest and the thickest bar in it"),
    "angle-blocks": say("The blocks side by side, each with its angle"),
    "rotary-table": say("The table from above, with what one turn of the handle does"),
    "tool-holders": say("What the holders take, side by side"),
  }[of.kind];
  return (
    <svg viewBox={`0 0 ${W} ${H}`} className="plan holding-sketch" role="img" aria-label={said}>
      {of.kind === "vise" && <ViseEnd depth={+of.depth} opening={+of.opening} swivel={of.swivel} unit={of.unit} />}
      {of.kind === "parallels" && <Bars sizes={of.pairs.map((p) => +p.height)} wide={of.pairs.map((p) => +p.thickness)} />}
      {of.kind === "clamps" && <Straps sizes={of.straps.map(Number)} unit={of.unit} />}
      {of.kind === "v-blocks" && <VBlock groove={+of.groove} bars={[+of.most, +of.least]} unit={of.unit} />}
      {of.kind === "angle-blocks" && <Wedges angles={of.angles.map(Number)} />}
      {of.kind === "tool-holders" && <Bores sizes={of.sizes.map(Number)} />}
      {of.kind === "rotary-table" && <Round turns={of.turns} />}
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

function VBlock({ groove, bars, unit }: { groove: number; bars: readonly number[]; unit: string }) {
  if (!drawable([groove, ...bars])) return null;
  const [thick = 0] = bars;
  // the bar's middle stands over the bottom of a right-angled groove by its radius times the root of two
  const high = Math.max(groove / 2, (thick / 2) * (1 + Math.SQRT2)) + groove * 0.3;
  const scale = Math.min((H - 34) / high, (W - 260) / groove);
  const [half, bottom, middle] = [(groove / 2) * scale, BASE - groove * 0.3 * scale, W / 2];
  const top = bottom - half;
  const body = `M${middle - half - 34} ${BASE} V${top} H${middle - half} L${middle} ${bottom} L${middle + half} ${top} H${middle + half + 34} V${BASE} Z`;
  return (
    <>
      <path d={body} className="plan-jaw" />
      {bars.map((d) => (
        <circle key={d} cx={middle} cy={bottom - (d / 2) * Math.SQRT2 * scale} r={(d / 2) * scale} className="plan-parallel" />
      ))}
      <text x={middle + half + 44} y={top + 4} className="plan-soft">
        {say("bars of {least} to {most} {unit}", { least: bars[1], most: thick, unit })}
      </text>
    </>
  );
}

function Wedges({ angles }: { angles: readonly number[] }) {
  if (!drawable(angles)) return null;
  const step = Math.min(80, (W - 16) / angles.length);
  const long = step - 8;
  return angles.map((a, i) => {
    const x = (W - step * angles.length) / 2 + step * i + 4;
    return (
      <g key={i}>
        <clipPath id={`block-${i}`}>
          <rect x={x - 500} y={BASE} width={1000} height={1000} transform={`rotate(${-a} ${x} ${BASE})`} />
        </clipPath>
        <rect x={x} y={BASE - 96} width={long} height={96} className="plan-jaw" clipPath={`url(#block-${i})`} />
        <text x={x + long / 2} y={BASE + 16} textAnchor="middle" className="plan-soft">
          {say("{angle}°", { angle: a })}
        </text>
      </g>
    );
  });
}

function Bores({ sizes }: { sizes: readonly number[] }) {
  if (!drawable(sizes)) return null;
  const step = Math.min(60, (W - 20) / sizes.length);
  const scale = (step - 12) / 2 / Math.max(...sizes);
  return sizes.map((n, i) => {
    const x = (W - step * sizes.length) / 2 + step * (i + 0.5);
    return (
      <g key={i}>
        <circle cx={x} cy={H / 2 - 8} r={step / 2 - 3} className="plan-jaw" />
        <circle cx={x} cy={H / 2 - 8} r={n * scale} className="plan-ground" />
        <text x={x} y={BASE + 4} textAnchor="middle" className="plan-soft">
          {n}
        </text>
      </g>
    );
  });
}

function Round({ turns }: { turns: number }) {
  if (!drawable([turns])) return null;
  const [x, y, r] = [W / 2 - 90, H / 2, 64];
  return (
    <>
      <circle cx={x} cy={y} r={r} className="plan-jaw" />
      {Array.from({ length: 36 }, (_, n) => (
        <line key={n} x1={x} y1={y - r + 1} x2={x} y2={y - r + (n % 9 ? 5 : 10)} className="plan-tick" transform={`rotate(${n * 10} ${x} ${y})`} />
      ))}
      <circle
        cx={x}
        cy={y}
        r={r / 2}
        className="plan-turn"
        strokeWidth={r}
        pathLength={turns}
        strokeDasharray={`1 ${turns - 1}`}
        transform={`rotate(-90 ${x} ${y})`}
      />
      <text x={x + r + 24} y={y + 5} className="plan-soft">
        {say("one turn: {degrees}°", { degrees: +(360 / turns).toFixed(3) })}
      </text>
    </>
  );
}
