import type { Schema } from "../../api/client";
import { Explained } from "../../shared/Explained";
import { say } from "../../shared/say";

/** A skill in words: its evidence, what must be shown, its cautions, the usual mistakes. */
export function SkillText({ skill }: { skill: Schema["SkillView"] }) {
  return (
    <>
      <p className="small muted">
        {skill.evidence.join(" · ")}
        {skill.per_machine && say(" · signed for each machine")}
        {skill.after_days && say(" · lapses after {after_days} days", { after_days: skill.after_days })}
        {skill.absence_days && say(" · or after {absence_days} days away", { absence_days: skill.absence_days })}
        {skill.signed_by === "instructor" ? say(" · signed by an instructor") : say(" · an assistant may sign it when it is delegated")}
      </p>
      <h3>{say("What must be shown")}</h3>
      <ol className="points">
        {skill.points.map((p) => (
          <li key={p.number}>
            <Explained text={p.text} />
            {p.critical && <span className="needs">{say("must be right")}</span>}
          </li>
        ))}
      </ol>
      {skill.cautions.map((c) => (
        <p key={c.happens} className="caution">
          <b>
            <Explained text={c.happens} />
          </b>{" "}
          <Explained text={c.do} />
        </p>
      ))}
      {skill.mistakes.length > 0 && (
        <>
          <h3>{say("Usual mistakes")}</h3>
          <ul className="points small">
            {skill.mistakes.map((m) => (
              <li key={m}>
                <Explained text={m} />
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
