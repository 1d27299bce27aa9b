import type { Schema } from "../../api/client";

/** A skill in words: its evidence, what must be shown, its cautions, the usual mistakes. */
export function SkillText({ skill }: { skill: Schema["SkillView"] }) {
  return (
    <>
      <p className="small muted">
        {skill.evidence.join(" · ")}
        {skill.per_machine && " · signed for each machine"}
        {skill.after_days && ` · lapses after ${skill.after_days} days`}
        {skill.absence_days && ` · or after ${skill.absence_days} days away`}
        {skill.signed_by === "instructor" ? " · signed by an instructor" : " · an assistant may sign it when it is delegated"}
      </p>
      <h3>What must be shown</h3>
      <ol className="points">
        {skill.points.map((p) => (
          <li key={p.number}>
            {p.text}
            {p.critical && <span className="needs">must be right</span>}
          </li>
        ))}
      </ol>
      {skill.cautions.map((c) => (
        <p key={c.happens} className="caution">
          <b>{c.happens}</b> {c.do}
        </p>
      ))}
      {skill.mistakes.length > 0 && (
        <>
          <h3>Usual mistakes</h3>
          <ul className="points small">
            {skill.mistakes.map((m) => (
              <li key={m}>{m}</li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
