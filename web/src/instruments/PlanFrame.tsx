type Paths = { view: readonly number[]; part: string; metal: string; behind: string; before: string; cutter: string; feed: string };

/** One frame of a plan: the part as it lies, in brass the metal that goes; large with jaws, cutter and feed. */
export function PlanFrame({ frame: f, said, large = false }: { frame: Paths; said: string; large?: boolean }) {
  return (
    <svg className={`plan-frame${large ? " large" : ""}`} viewBox={f.view.join(" ")} role="img" aria-label={said}>
      <path className="plan-jaw" d={f.behind} />
      <path className="plan-edge" d={f.part} />
      <path className="plan-metal" d={f.metal} />
      <path className="plan-jaw" d={f.before} />
      <path className="plan-feed" d={f.feed} />
      <path className="plan-cutter" d={f.cutter} />
    </svg>
  );
}
