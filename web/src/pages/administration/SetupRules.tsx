import { Button, Checkbox, Input } from "antd";
import { useState } from "react";
import { wordsFor, type Schema } from "../../api/client";
import { say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Rules = Schema["SetupRules"];

const HEAD: Record<NonNullable<Rules["head_school"]>, string> = {
  tilt_first: say("Side to side first, then front to back, then side to side again"),
  nod_first: say("Front to back first, then side to side"),
};
const VISE: Record<NonNullable<Rules["vise_school"]>, string> = {
  pivot: say("Pivot: one bolt snug, the other loose; the needle is brought to the pivot's own reading"),
  walk_in: say("Walk it in: both bolts snug; each end takes half of the difference"),
  long_parallel: say("Long parallel: read beyond both bolts, so that one end rises as the other falls"),
};

/** How this shop sets up: its order, its way with a vise, what it allows, and how long a setup stands. */
export function SetupRules({
  rules,
  mayChange,
  busy,
  onChange,
}: {
  rules: Rules;
  mayChange: boolean;
  busy: boolean;
  onChange: (r: Rules) => Promise<unknown>;
}) {
  const [r, set] = useState(rules);
  const [error, setError] = useState("");
  const unsaved = JSON.stringify(r) !== JSON.stringify(rules);
  const save = async () => {
    setError("");
    try {
      await onChange(r);
    } catch (failed) {
      setError(wordsFor(failed));
    }
  };
  const field = (name: "head_rise" | "head_span" | "vise_rise", words: string) => (
    <label className="asked">
      {words}, {r.unit}
      <Input inputMode="decimal" value={r[name]} maxLength={20} disabled={!mayChange} onChange={(e) => set({ ...r, [name]: e.target.value })} />
    </label>
  );
  return (
    <section className="card pad stack" aria-label={say("How setting up is done here")} id="setting-up">
      <h2>{say("How setting up is done here")}</h2>
      <div className="shop-rules">
        <Pick name={say("The head")} of={HEAD} value={r.head_school} disabled={!mayChange} onChange={(head_school) => set({ ...r, head_school })} />
        <Pick name={say("The vise")} of={VISE} value={r.vise_school} disabled={!mayChange} onChange={(vise_school) => set({ ...r, vise_school })} />
      </div>
      <div className="shop-numbers">
        {field("head_rise", say("Head out by at most"))}
        {field("head_span", say("over"))}
        {field("vise_rise", say("Vise out over its jaw by at most"))}
        <label className="asked">
          {say("A setup is good for, hours")}
          <Input
            inputMode="numeric"
            value={String(r.hours)}
            maxLength={3}
            disabled={!mayChange}
            onChange={(e) => set({ ...r, hours: Number(e.target.value.replace(/\D/g, "")) })}
          />
        </label>
      </div>
      <Checkbox className="row" checked={r.same_person} disabled={!mayChange} onChange={(e) => set({ ...r, same_person: e.target.checked })}>
        <span>{say("Everybody reads the setup of somebody else again before working on it")}</span>
      </Checkbox>
      <Refused words={error} />
      {mayChange && (
        <div className="row">
          <Button type="primary" disabled={busy || !unsaved} onClick={() => void save()}>
            {say("Save how it is done")}
          </Button>
          {unsaved && <span className="needs">{say("not saved")}</span>}
        </div>
      )}
    </section>
  );
}

function Pick<T extends string>({
  name,
  of,
  value,
  disabled,
  onChange,
}: {
  name: string;
  of: Record<T, string>;
  value: T;
  disabled: boolean;
  onChange: (v: T) => void;
}) {
  return (
    <div className="stack" role="radiogroup" aria-label={name}>
      <h3>{name}</h3>
      {(Object.keys(of) as T[]).map((k) => (
        <Button
          key={k}
          role="radio"
          aria-checked={k === value}
          type="text"
          className={`plain school ${k === value ? "school-on" : ""}`}
          disabled={disabled}
          onClick={() => onChange(k)}
        >
          {of[k]}
        </Button>
      ))}
    </div>
  );
}
