import { Waiting } from "../../shared/Loading";
import { Dialog } from "../../shared/Dialog";
import { Checkbox, Input, Select } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body } from "../../api/client";
import { queries } from "../../api/queries";
import { useAct } from "../../shared/useAct";
import { say } from "../../shared/say";
import { EntryForm } from "../../shared/EntryForm";

type Skill = {
  id: string;
  name: string;
  shown: string[];
  mistakes: string[];
  prerequisites: string[];
  cautions: { happens: string; do: string }[];
  critical: number[];
  refresher: number[];
  signed_by: string;
  lapses: { after_days: number | null; absence_days: number | null };
};
type File = { skills: Skill[] };

/** One skill of the graph to change; the whole graph is checked before it is saved. */
export function EditSkill({ skill, onClose }: { skill: string; onClose: () => void }) {
  const { data } = useQuery({ ...queries.skillGraph(), staleTime: 0, refetchOnMount: "always" });
  const file = data ? (JSON.parse(data.file) as File) : null;
  const found = file?.skills.find((s) => s.id === skill);
  return (
    <Dialog title={say("Change a skill")} wide onClose={onClose}>
      {file && found && data ? <Form key={data.number} file={file} number={data.number} skill={found} onClose={onClose} /> : <Waiting />}
    </Dialog>
  );
}

function Form({ file, number, skill, onClose }: { file: File; number: number; skill: Skill; onClose: () => void }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [s, setS] = useState(skill);
  const lines = (text: string) => text.split("\n");
  const save = () =>
    act(async () => {
      const clean: Skill = { ...s, shown: trim(s.shown), mistakes: trim(s.mistakes) };
      const next = { ...file, skills: file.skills.map((x) => (x.id === s.id ? clean : x)) };
      await body(api.PUT("/api/skill-graph", { body: { file: JSON.stringify(next), number } }));
      await client.invalidateQueries();
      onClose();
    });
  const days = (field: keyof Skill["lapses"], label: string) => (
    <label className="asked">
      {label}
      <Input
        inputMode="numeric"
        maxLength={4}
        value={s.lapses[field] ?? ""}
        onChange={(e) =>
          setS({
            ...s,
            lapses: { ...s.lapses, [field]: e.target.value ? Number(e.target.value.replace(/\D/g, "")) : null },
          })
        }
      />
    </label>
  );
  return (
    <EntryForm onSend={save} yes={say("Check and save")} refused={error} busy={busy} onCancel={onClose}>
      <h2>{skill.name}</h2>
      <label className="asked">
        {say("Name")}
        <Input maxLength={80} value={s.name} onChange={(e) => setS({ ...s, name: e.target.value })} />
      </label>
      <label className="asked">
        {say("What must be shown, one point a line")}
        <Input.TextArea rows={5} value={s.shown.join("\n")} onChange={(e) => setS({ ...s, shown: lines(e.target.value) })} />
      </label>
      <fieldset className="points-marks">
        <legend className="small muted">{say('Points that must be right (one "no" stops it), and those of the refresher')}</legend>
        {s.shown.map((text, i) => (
          <div key={i} className="row small">
            <span className="grow">{text}</span>
            <Tick
              label={say("must be right")}
              on={s.critical.includes(i + 1)}
              onTurn={(on) => setS({ ...s, critical: turned(s.critical, i + 1, on) })}
            />
            <Tick
              label={say("refresher")}
              on={s.refresher.includes(i + 1)}
              onTurn={(on) => setS({ ...s, refresher: turned(s.refresher, i + 1, on) })}
            />
          </div>
        ))}
      </fieldset>
      <label className="asked">
        {say("Usual mistakes, one a line")}
        <Input.TextArea rows={2} value={s.mistakes.join("\n")} onChange={(e) => setS({ ...s, mistakes: lines(e.target.value) })} />
      </label>
      {s.cautions.map((c, i) => (
        <div key={i} className="row">
          <label className="asked grow">
            {say("What can happen")}
            <Input.TextArea
              rows={2}
              value={c.happens}
              onChange={(e) => setS({ ...s, cautions: s.cautions.map((x, n) => (n === i ? { ...x, happens: e.target.value } : x)) })}
            />
          </label>
          <label className="asked grow">
            {say("What to do")}
            <Input.TextArea
              rows={2}
              value={c.do}
              onChange={(e) => setS({ ...s, cautions: s.cautions.map((x, n) => (n === i ? { ...x, do: e.target.value } : x)) })}
            />
          </label>
        </div>
      ))}
      <div className="row">
        {days("after_days", say("Lapses after days"))}
        {days("absence_days", say("Lapses after days away"))}
        <label className="asked">
          {say("Signed by")}
          <Select
            value={s.signed_by}
            onChange={(picked) => setS({ ...s, signed_by: picked })}
            options={[
              { value: "instructor", label: say("an instructor") },
              { value: "assistant", label: say("an assistant too, when delegated") },
            ]}
          />
        </label>
      </div>
      <fieldset className="points-marks">
        <legend className="small muted">{say("Rests on")}</legend>
        <div className="rests">
          {file.skills
            .filter((x) => x.id !== s.id)
            .map((x) => (
              <Tick
                key={x.id}
                label={x.name}
                on={s.prerequisites.includes(x.id)}
                onTurn={(on) => setS({ ...s, prerequisites: turned(s.prerequisites, x.id, on) })}
              />
            ))}
        </div>
      </fieldset>
    </EntryForm>
  );
}

function Tick({ label, on, onTurn }: { label: string; on: boolean; onTurn: (on: boolean) => void }) {
  return (
    <Checkbox className="row small tick" checked={on} onChange={(e) => onTurn(e.target.checked)}>
      {" "}
      {label}
    </Checkbox>
  );
}

const turned = <T,>(list: T[], item: T, on: boolean): T[] => (on ? [...list, item] : list.filter((x) => x !== item));
const trim = (list: string[]): string[] => list.map((x) => x.trim()).filter(Boolean);
