import type { Schema } from "../api/client";
import { Dial } from "./Dial";
import { say } from "../shared/say";

type Picture = Schema["ReadingPicture"];
const W = 800;
const range = (from: number, to: number) => Array.from({ length: Math.max(to - from + 1, 0) }, (_, i) => from + i);

/** An instrument exactly as it stands, to be read. */
export function Reading({ picture: p }: { picture: Picture | null }) {
  if (!p) return <p className="muted pad">{say("Everything is answered.")}</p>;
  if (p.kind === "indicator") {
    return (
      <div className="reading-dial">
        <Dial reading={p.needle} division={p.unit === "in" ? 0.0127 : 0.01} unit={p.unit} turns={p.turns} shown="" />
      </div>
    );
  }
  if (p.kind === "dial-caliper") return <DialCaliper value={p.value} name={p.name} />;
  if (p.kind === "vernier-caliper") return <Vernier value={p.value} name={p.name} />;
  return p.unit === "in" ? <Thimble picture={p} line={0.025} lines={25} numbers={4} /> : <Thimble picture={p} line={0.5} lines={50} numbers={10} />;
}

/** The bar with its tenths up to the jaw, and the dial with a hundred thousandths a turn. */
function DialCaliper({ value: v, name }: { value: number; name: string }) {
  const x = (t: number) => 300 + (t - v) * 300;
  const tenths = range(Math.ceil((v - 0.95) * 10), Math.floor(v * 10 + 0.001));
  return (
    <svg
      viewBox={`0 0 ${W} 330`}
      className="plan reading"
      role="img"
      aria-label={say("{name}: read the bar at the jaw's edge, then the dial", { name })}
    >
      <rect width={W} height="330" className="plan-ground" />
      <rect y="60" width={W} height="70" className="plan-table" />
      {tenths
        .filter((t) => t >= 0)
        .map((t) => (
          <g key={t}>
            <path d={`M${x(t / 10)} 60V${t % 10 === 0 ? 108 : 96}`} className="ring-tick" />
            <text x={x(t / 10)} y="124" textAnchor="middle">
              {t % 10 === 0 ? say("{t} in", { t: t / 10 }) : t % 10}
            </text>
          </g>
        ))}
      <path d="M300 46H620V150H340L320 240H300z" className="plan-moving solid" />
      <g transform="translate(500 190)">
        <circle r="124" className="ring-body" />
        <circle r="116" className="ring-face" />
        {range(0, 99).map((i) => (
          <path key={i} d={`M0 -116V${i % 10 === 0 ? -96 : i % 5 === 0 ? -102 : -108}`} transform={`rotate(${i * 3.6})`} className="ring-tick" />
        ))}
        {range(0, 9).map((i) => (
          <text key={i} transform={`rotate(${i * 36}) translate(0 -82) rotate(${-i * 36})`} y="5" textAnchor="middle">
            {i * 10}
          </text>
        ))}
        <g transform={`rotate(${(v * 10 - Math.floor(v * 10 + 1e-6)) * 360})`}>
          <path d="M0 24V-104" className="dial-needle" />
        </g>
        <circle r="7" className="ring-hub" />
        <text y="44" textAnchor="middle" className="plan-soft">
          {say("0.001 in")}
        </text>
      </g>
    </svg>
  );
}

/** Millimetres above, fifty vernier lines over forty-nine of them below. */
function Vernier({ value: v, name }: { value: number; name: string }) {
  const s = 14.2;
  const x = (mm: number) => 50 + mm * s;
  return (
    <svg
      viewBox={`0 0 ${W} 190`}
      className="plan reading"
      role="img"
      aria-label={say("{name}: the vernier's zero gives the millimetres, the line that meets the rest", { name })}
    >
      <rect width={W} height="190" className="plan-ground" />
      <rect y="24" width={W} height="66" className="plan-table" />
      <rect x="14" y="90" width="760" height="76" className="plan-moving solid" />
      {range(Math.ceil(v - 3), Math.floor(v + 52))
        .filter((mm) => mm >= 0)
        .map((mm) => (
          <g key={mm}>
            <path d={`M${x(mm - v)} 90V${mm % 10 === 0 ? 50 : mm % 5 === 0 ? 60 : 68}`} className="reading-line" />
            {mm % 10 === 0 && (
              <text x={x(mm - v)} y="42" textAnchor="middle">
                {mm}
              </text>
            )}
          </g>
        ))}
      {range(0, 50).map((k) => (
        <g key={k}>
          <path d={`M${x(k * 0.98)} 90V${k % 5 === 0 ? 122 : 110}`} className="reading-line" />
          {k % 5 === 0 && (
            <text x={x(k * 0.98)} y="142" textAnchor="middle">
              {k / 5}
            </text>
          )}
        </g>
      ))}
      <text x="770" y="182" textAnchor="end" className="plan-soft">
        {say("0.02 mm")}
      </text>
    </svg>
  );
}

/** Sleeve and thimble. A depth micrometer's sleeve and thimble count the other way: what is covered counts. */
function Thimble({ picture: p, line, lines, numbers }: { picture: Picture; line: number; lines: number; numbers: number }) {
  const depth = p.kind === "depth-micrometer";
  const inch = p.unit === "in";
  const v = p.value;
  const edge = 470;
  const s = inch ? 640 : 34;
  const h = 15;
  const at = (v / line - Math.floor(v / line + 1e-9)) * lines;
  const first = Math.floor(v / line + 1e-9);
  const marks = depth ? range(first + 1, first + 16) : range(Math.max(0, first - 16), first);
  const x = (n: number) => (depth ? edge - (n * line - v) * s : edge + (n * line - v) * s);
  const up = depth ? 1 : -1;
  return (
    <svg
      viewBox={`0 0 ${W} 330`}
      className="plan reading"
      role="img"
      aria-label={say("{name}: read the sleeve, then the thimble{value}", {
        name: p.name,
        value: p.vernier ? say(", then the vernier line that meets") : "",
      })}
    >
      <rect width={W} height="330" className="plan-ground" />
      <rect y={p.vernier ? 22 : 70} width={edge} height={p.vernier ? 286 : 190} className="plan-table" />
      <path d={`M0 165H${edge}`} className="reading-line" />
      {marks
        .filter((n) => x(n) > 12 && n * line <= (inch ? 1.0001 : 25.001))
        .map((n) => {
          const major = inch ? n % numbers === 0 : n % numbers === 0;
          const below = !inch && n % 2 === 1;
          return (
            <g key={n}>
              <path d={below ? `M${x(n)} 165V187` : `M${x(n)} 165V${major ? 128 : 143}`} className="reading-line" />
              {major && (
                <text x={x(n)} y="122" textAnchor="middle">
                  {inch ? (n / numbers) % 10 : n / 2}
                </text>
              )}
            </g>
          );
        })}
      {p.vernier &&
        range(0, 10).map((k) => (
          <g key={`v${k}`}>
            <path d={`M${edge - 34} ${165 - k * 0.9 * h}H${edge}`} className="reading-line fine" />
            <text x={edge - 42} y={169 - k * 0.9 * h} textAnchor="end" className="reading-small">
              {k % 10}
            </text>
          </g>
        ))}
      <path d={`M${edge} 40L${edge + 36} 20H${W}V310H${edge + 36}L${edge} 290z`} className="plan-moving solid" />
      {range(Math.ceil(at) - 10, Math.floor(at) + 10).map((k) => {
        const n = ((k % lines) + lines) % lines;
        const y = 165 + up * (k - at) * h;
        if (y < 34 || y > 296) return null;
        return (
          <g key={k}>
            <path d={`M${edge} ${y}H${edge + (n % 5 === 0 ? 60 : 40)}`} className="reading-line" />
            {n % 5 === 0 && (
              <text x={edge + 70} y={y + 5}>
                {n}
              </text>
            )}
          </g>
        );
      })}
      <text x={W - 16} y="322" textAnchor="end" className="plan-soft">
        {inch ? say("thimble: 25 lines of 0.001 in") : say("thimble: 50 lines of 0.01 mm")}
      </text>
    </svg>
  );
}
