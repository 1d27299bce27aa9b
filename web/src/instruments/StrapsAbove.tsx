import type { Schema } from "../api/client";

const W = 680;
const H = 300;

/** Work on the table under straps, from above: the metal that stays, where the cutter passes, the straps. */
export function StrapsAbove({ straps: s, said }: { straps: Schema["StrapsView"]; said: string }) {
  const boxes = [s.work, ...s.places.map((p) => p.strap)];
  const left = Math.min(...boxes.map((b) => b.left)) - 12;
  const right = Math.max(...boxes.map((b) => b.right)) + 12;
  const front = Math.min(...boxes.map((b) => b.front)) - 12;
  const rear = Math.max(...boxes.map((b) => b.rear)) + 12;
  const scale = Math.min(W / (right - left), H / (rear - front));
  const x = (mm: number) => W / 2 + (mm - (left + right) / 2) * scale;
  const y = (mm: number) => H / 2 - (mm - (front + rear) / 2) * scale;
  const at = ([a = 0, b = 0]: readonly number[]) => `${x(a).toFixed(1)} ${y(b).toFixed(1)}`;
  const rings = (shape: Schema["StrapsView"]["metal"]) => shape.map((ring) => `M${ring.map(at).join("L")}z`).join("");
  const rect = (b: Schema["FromAbove"]) => ({
    x: x(b.left),
    y: y(b.rear),
    width: (b.right - b.left) * scale,
    height: (b.rear - b.front) * scale,
  });
  return (
    <svg viewBox={`0 0 ${W} ${H}`} className="plan" role="img" aria-label={said}>
      <rect width={W} height={H} className="plan-table" />
      <rect {...rect(s.work)} className="section-work" />
      <path d={rings(s.metal)} className="straps-metal" fillRule="evenodd" />
      <path d={rings(s.way)} className="straps-way" fillRule="evenodd" />
      {s.places.map((p) => (
        <g key={p.words}>
          <rect {...rect(p.strap)} rx="4" className="straps-strap" />
          <rect {...rect(p.nose)} className="straps-nose" />
        </g>
      ))}
    </svg>
  );
}
