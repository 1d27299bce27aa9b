import { say } from "../shared/say";
const R = 150;

/**
 * An indicator's dial. One turn of the needle is sixty divisions, half of them each
 * way; a small counter shows whole turns. ``reading`` in mm, null when nothing is touched.
 */
export function Dial({
  reading,
  division,
  unit,
  turns,
  shown,
}: {
  reading: number | null;
  division: number;
  unit: string;
  turns: number;
  shown: string;
}) {
  const angle = ((reading ?? 0) / division) * 6;
  const step = unit === "in" ? 5 : 10;
  const one = unit === "in" ? say("one division is half a thousandth, 0.0005 in") : say("one division is 0.01 mm");
  const words = reading === null ? say("the tip touches nothing") : say("the needle shows {shown}", { shown });
  return (
    <svg viewBox="-170 -170 340 340" className="dial" role="img" aria-label={say("Indicator: {words}; {one}", { words, one })} data-shown={shown}>
      <circle r="162" className="dial-rim" />
      <circle r={R} className="dial-face" />
      {Array.from({ length: 60 }, (_, i) => {
        const long = i % 5 === 0;
        return (
          <path key={i} d={`M0 ${-R + 3}V${-R + (long ? 20 : 11)}`} transform={`rotate(${i * 6})`} className={long ? "dial-long" : "dial-tick"} />
        );
      })}
      {[0, 1, 2, 3, 4, 5].map((n) => {
        const value = n <= 3 ? n * step : (6 - n) * step;
        return (
          <text key={n} transform={`rotate(${n * 60}) translate(0 -112) rotate(${-n * 60})`} y="7" textAnchor="middle" className="dial-number">
            {value}
          </text>
        );
      })}
      <text x="-52" y="-82" textAnchor="middle" className="dial-sign">
        −
      </text>
      <text x="52" y="-82" textAnchor="middle" className="dial-sign">
        +
      </text>
      <g transform="translate(0 -46)">
        <circle r="17" className="dial-turns" />
        <text y="6" textAnchor="middle" className="dial-count">
          {turns}
        </text>
      </g>
      <g transform={`rotate(${angle})`} opacity={reading === null ? 0.25 : 1}>
        <path d={`M0 26V${-R + 24}`} className="dial-needle" />
        <path d={`M-6 ${-R + 44}L0 ${-R + 16}L6 ${-R + 44}z`} className="dial-tip" />
      </g>
      <circle r="9" className="dial-hub" />
      <text y="58" textAnchor="middle" className="dial-shown">
        {reading === null ? "–" : shown.replace(` ${unit}`, "")}
      </text>
      <text y="80" textAnchor="middle" className="dial-unit">
        {unit === "in" ? "in · 1 div 0.0005" : "mm · 1 div 0.01"}
      </text>
    </svg>
  );
}
