import { sure } from "../../shared/sure";
import { Button, Select } from "antd";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Loading } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { MayTable } from "./MayTable";
import { Noticed } from "./Noticed";
import { SkillPanel } from "./SkillPanel";
import { StateMark, STATE_WORDS, type State } from "../../shared/skillState";
import { ClassList } from "../people/ClassList";
import { groupOptions } from "../../shared/groupOptions";
import "./class.css";
import { Rich, say, sayMany } from "../../shared/say";

const SHOWN: State[] = ["signed", "ready", "open", "locked", "due_soon", "lapsed", "suspended", "withdrawn"];
type Column = { key: string; name: string; skills: string[] };

/** Students by groups of skills; one group opens to its skills. Arrow keys walk, Enter opens. */
export default function ClassPage() {
  const [params, setParams] = useSearchParams();
  const { data, error } = useQuery(queries.classTable(params.get("group") ?? ""));
  const me = useMe();
  const state = SHOWN.find((s) => s === params.get("state")) ?? "";
  const wanted = params.get("skill");
  // what is chosen stands in the address: it survives a reload and can be sent to a colleague
  const choose = (name: string, value: string) =>
    setParams(
      (was) => {
        if (value) was.set(name, value);
        else was.delete(name);
        return was;
      },
      { replace: true },
    );
  const [opened, setOpened] = useState<string | null>(null);
  const [cell, setCell] = useState<{ student: string; skill: string } | null>(null);
  const [importing, setImporting] = useState(false);
  const table = useRef<HTMLTableElement>(null);
  if (!data) return <Loading error={error} />;
  const unfolded = opened ?? data.skills.find((s) => s.id === wanted)?.group ?? "";
  const columns: Column[] = data.groups.flatMap((g) => {
    const skills = data.skills.filter((s) => s.group === g.id);
    if (g.id !== unfolded) return [{ key: g.id, name: g.name, skills: skills.map((s) => s.id) }];
    return skills.map((s) => ({ key: s.id, name: s.name, skills: [s.id] }));
  });
  const rows = data.rows.filter((r) => !state || r.cells.some((c) => c.state === state));
  const names = new Map(data.skills.map((s) => [s.id, s.name]));

  const showGroup = (group: string) => {
    setImporting(false);
    if (group) choose("group", group);
  };
  const walk = (event: React.KeyboardEvent) => {
    const step = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowDown: [0, 1], ArrowUp: [0, -1] }[event.key];
    const at = (event.target as HTMLElement).dataset.at?.split(",").map(Number);
    if (!step || !at) return;
    event.preventDefault();
    const next = `${sure(at[0]) + sure(step[0])},${sure(at[1]) + sure(step[1])}`;
    table.current?.querySelector<HTMLElement>(`[data-at="${next}"]`)?.focus();
  };

  return (
    <main className={`page class-page ${cell ? "opened" : ""}`}>
      <section>
        <div className="between class-head">
          <h1>
            <Rich
              text={"Class <span>{count} students, {count2} skills</span>"}
              values={{ count: rows.length, count2: data.skills.length }}
              with={{ span: <span className="muted small" /> }}
            />
          </h1>
          <div className="row">
            <label className="asked">
              {say("Group")}
              <Select
                showSearch={{ optionFilterProp: "label" }}
                value={data.group?.id ?? ""}
                onChange={(picked) => choose("group", picked)}
                options={groupOptions(data)}
              />
            </label>
            <label className="asked">
              {say("State")}
              <Select
                showSearch={{ optionFilterProp: "label" }}
                value={state}
                onChange={(picked) => choose("state", picked)}
                options={[{ value: "", label: say("any state") }, ...SHOWN.map((s) => ({ value: s, label: STATE_WORDS[s] }))]}
              />
            </label>
            {data.group && (
              <Link className="button" to={`/group/${data.group.id}`}>
                {say("Parts of the term")}
              </Link>
            )}
            {me.role === "instructor" && <Button onClick={() => setImporting(true)}>{say("Import a class list")}</Button>}
          </div>
        </div>
        <div className="card class-scroll">
          <table className="class-table" ref={table} onKeyDown={walk}>
            <thead>
              <tr>
                <th className="name">{say("Student")}</th>
                {data.groups.map((g) => {
                  const mine = columns.filter((c) => c.key === g.id || data.skills.some((s) => s.id === c.key && s.group === g.id));
                  return (
                    <th key={g.id} colSpan={mine.length} className={g.id === unfolded ? "unfolded" : ""}>
                      <Button
                        type="text"
                        className="plain class-group"
                        aria-expanded={g.id === unfolded}
                        onClick={() => setOpened(g.id === unfolded ? "" : g.id)}
                      >
                        {g.name} <span aria-hidden="true">{g.id === unfolded ? "−" : "+"}</span>
                      </Button>
                    </th>
                  );
                })}
                <th>{say("May run alone now")}</th>
              </tr>
              {unfolded && (
                <tr>
                  <th className="name" />
                  {columns.map((c) => (
                    <th key={c.key} className={`skill-head ${c.key === wanted ? "wanted" : ""}`}>
                      {names.get(c.key) ?? ""}
                    </th>
                  ))}
                  <th />
                </tr>
              )}
            </thead>
            <tbody>
              {rows.map((r, y) => (
                <tr key={r.student.id}>
                  <th className="name" scope="row">
                    <Link to={`/skills/${r.student.id}`}>{r.student.name}</Link>
                  </th>
                  {columns.map((c, x) => {
                    const shown = shownOf(r, c);
                    return (
                      <td key={c.key} className={c.key === wanted ? "wanted" : ""}>
                        <Square
                          at={`${x},${y}`}
                          who={r.student.name}
                          what={c.name}
                          shown={shown}
                          on={cell?.student === r.student.id && c.skills.includes(cell.skill)}
                          onOpen={() => setCell({ student: r.student.id, skill: shown.skill })}
                        />
                      </td>
                    );
                  })}
                  <td className="small alone" title={r.may_alone.join(", ")}>
                    {alone(r)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {rows.length === 0 && <p className="pad muted">{say("Nobody here is in that state.")}</p>}
        </div>
        <div className="legend small">
          {SHOWN.map((s) => (
            <span key={s} className="row near">
              <StateMark state={s} size={18} />
              {STATE_WORDS[s]}
            </span>
          ))}
        </div>
        <Noticed group={data.group?.id ?? ""} />
      </section>
      {cell && <Opened student={cell.student} skill={cell.skill} onClose={() => setCell(null)} />}
      {importing && <ClassList groups={data.choices.map((c) => c.name)} onClose={showGroup} />}
    </main>
  );
}

type Shown = { state: State; reason: string; note: string; skill: string };

function shownOf(row: Schema["ClassRow"], column: Column): Shown {
  const whole = row.groups.find((g) => g.group === column.key);
  if (whole) return { ...whole, note: `${whole.held}/${whole.count}` };
  const cell = sure(row.cells.find((c) => c.skill === column.key));
  return { ...cell, note: cell.machines.map((m) => m.slice(0, 3)).join(" ") };
}

function Square({ at, who, what, shown, on, onOpen }: { at: string; who: string; what: string; shown: Shown; on: boolean; onOpen: () => void }) {
  const words = `${STATE_WORDS[shown.state]}: ${shown.reason}`;
  return (
    <button
      className={`cell ${on ? "on" : ""}`}
      data-at={at}
      title={words}
      aria-label={[shown.note, who, what, words].filter(Boolean).join(", ")}
      onClick={onOpen}
    >
      <StateMark state={shown.state} size={20} />
      <span className="small">{shown.note}</span>
    </button>
  );
}

function alone(r: Schema["ClassRow"]): string {
  const count = r.may_alone.length;
  return count === 0 ? say("nothing") : sayMany("{count} operation", "{count} operations", count);
}

function Opened({ student, skill, onClose }: { student: string; skill: string; onClose: () => void }) {
  const { data } = useQuery(queries.skills(student));
  const entry = data?.skills.find((s) => s.skill.id === skill);
  return (
    <aside className="card pad class-opened" onKeyDown={(e) => e.key === "Escape" && onClose()}>
      <div className="between">
        <Link to={`/skills/${student}`} className="head">
          {data?.student.name ?? "…"}
        </Link>
        <Button onClick={onClose}>{say("Close")}</Button>
      </div>
      {data && entry && (
        <>
          <SkillPanel key={student + skill} student={data.student} entry={entry} />
          <MayTable may={data.may} own={false} />
        </>
      )}
    </aside>
  );
}
