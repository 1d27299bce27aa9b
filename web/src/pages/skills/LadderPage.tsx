import { Button } from "antd";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Loading } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { StateMark, STATE_COLOURS, STATE_WORDS } from "../../shared/skillState";
import { EditSkill } from "./EditSkill";
import { SkillText } from "./SkillText";
import "./ladder.css";
import { say } from "../../shared/say";

type Box = Schema["BoxView"];

/** The skill graph as a picture: what rests on what, where am I, what is next. */
export default function LadderPage() {
  const [params] = useSearchParams();
  const { data, error } = useQuery(queries.skillMap(params.get("student") ?? ""));
  if (!data) return <Loading error={error} />;
  return <Ladder key={`${data.number} ${data.student?.id}`} map={data} />;
}

function Ladder({ map }: { map: Schema["SkillMapView"] }) {
  const me = useMe();
  const own = map.student?.id === me.id;
  const [chosen, setChosen] = useState<string>("");
  const [editing, setEditing] = useState(false);
  const skill = map.skills.find((s) => s.id === chosen);
  const box = map.boxes.find((b) => b.skill === chosen);
  const next = map.boxes.filter((b) => b.next);
  return (
    <main className={`page ladder ${skill ? "opened" : ""}`}>
      <div className="between ladder-head">
        <h1>{map.student ? (own ? say("Where I am") : map.student.name) : say("The skills of this shop")}</h1>
        <p className="muted">
          {map.student
            ? say("{held} of {count} signed, {count2} in reach", { held: map.held, count: map.boxes.length, count2: next.length })
            : say("{count} skills, version {number}", { count: map.boxes.length, number: map.number })}
        </p>
      </div>
      {map.student && next.length > 0 && (
        <nav className="ladder-next" aria-label={own ? say("Next for you") : say("Next for {name}", { name: map.student.name })}>
          <b>{own ? say("Next for you") : say("Next")}</b>
          {next.map((b) => (
            <Button key={b.skill} type={b.skill === chosen ? "primary" : "default"} title={b.reason} onClick={() => setChosen(b.skill)}>
              {b.name}
            </Button>
          ))}
        </nav>
      )}
      <div className="ladder-columns">
        <div className="card ladder-scroll">
          <svg className="ladder-map" width={map.width} height={map.height} viewBox={`0 0 ${map.width} ${map.height}`}>
            {map.lanes.map((l, i) => (
              <g key={l.group}>
                <rect x="0" y={l.y} width={map.width} height={l.height} className={i % 2 ? "lane odd" : "lane"} />
                <text x="8" y={l.y + 22} className="lane-name">
                  {l.name}
                </text>
              </g>
            ))}
            {[...map.links]
              .sort((a, b) => Number(touches(a, chosen)) - Number(touches(b, chosen)))
              .map((l) => (
                <path key={`${l.before} ${l.after}`} d={l.path} className={`link ${l.held ? "held" : ""} ${touches(l, chosen) ? "near" : ""}`} />
              ))}
            {map.boxes.map((b) => (
              <BoxShape
                key={b.skill}
                box={b}
                width={map.box_width}
                height={map.box_height}
                on={b.skill === chosen}
                onChoose={() => setChosen(b.skill)}
              />
            ))}
          </svg>
        </div>
        {skill && (
          <aside className="card pad stack ladder-skill">
            <div className="between">
              <h2>{skill.name}</h2>
              <Button onClick={() => setChosen("")}>{say("Close")}</Button>
            </div>
            {box?.state && (
              <p className="row">
                <StateMark state={box.state} size={26} />
                <span>
                  <b>{STATE_WORDS[box.state]}</b> <span className="small muted">{box.reason}</span>
                </span>
              </p>
            )}
            <SkillText skill={skill} />
            {map.student && <Link to={`/skills/${map.student.id}`}>{say("To the record of this skill")}</Link>}
            {me.role === "instructor" && !map.student && <Button onClick={() => setEditing(true)}>{say("Change this skill")}</Button>}
          </aside>
        )}
      </div>
      {editing && skill && <EditSkill skill={skill.id} onClose={() => setEditing(false)} />}
    </main>
  );
}

/** Whether a line begins or ends at this skill. */
function touches(link: Schema["SkillMapView"]["links"][number], skill: string): boolean {
  return link.before === skill || link.after === skill;
}

function BoxShape({ box: b, width, height, on, onChoose }: { box: Box; width: number; height: number; on: boolean; onChoose: () => void }) {
  const colour = b.state ? STATE_COLOURS[b.state] : "var(--ink)";
  const held = b.state === "signed" || b.state === "due_soon";
  return (
    <g
      transform={`translate(${b.x} ${b.y})`}
      className={`box ${on ? "on" : ""} ${b.next ? "next" : ""} ${held ? "held" : ""}`}
      role="button"
      tabIndex={0}
      aria-pressed={on}
      aria-label={`${b.name}${b.state ? `: ${STATE_WORDS[b.state]}, ${b.reason}` : ""}`}
      onClick={onChoose}
      onKeyDown={(e) => {
        if (e.key !== "Enter" && e.key !== " ") return;
        e.preventDefault();
        onChoose();
      }}
    >
      <title>{b.state ? `${STATE_WORDS[b.state]}: ${b.reason}` : b.name}</title>
      <rect width={width} height={height} style={{ stroke: colour }} />
      {b.state && (
        <svg x="4" y={height / 2 - 9} width="18" height="18">
          <StateMark state={b.state} size={18} />
        </svg>
      )}
      <foreignObject x={b.state ? 25 : 6} y="0" width={width - (b.state ? 28 : 10)} height={height}>
        <div className="box-name" style={{ height }}>
          {b.name}
        </div>
      </foreignObject>
    </g>
  );
}
