import { Button, Input, Select } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { sure } from "../../shared/sure";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useAct } from "../../shared/useAct";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Bench = Schema["SetupBench"];
type Head = Schema["HeadSettings"];
type Vise = Schema["ViseSettings"];

function useBegin(machine: string) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { act, error, busy } = useAct();
  const begin = (assignment: string | null, settings: Head | Vise) =>
    act(async () => {
      const page = await body(
        api.POST("/api/machines/{machine}/setups", {
          params: { path: { machine } },
          body: { id: newId(), assignment, settings },
        }),
      );
      client.setQueryData(queries.setup(page.id).queryKey, page);
      void client.invalidateQueries({ queryKey: ["setup-bench"] });
      void navigate(`/setups/${page.id}`);
    });
  return { begin, error, busy };
}

export function BeginHead({ bench: b, card }: { bench: Bench; card: string | null }) {
  const { begin, error, busy } = useBegin(b.machine.id);
  const [s, set] = useState(b.head);
  if (!s)
    return (
      <p className="caution">
        {say("The head of {name} is fixed: it cannot be set. If it reads out of square, tell an instructor.", { name: b.machine.name })}
      </p>
    );
  return (
    <form
      className="stack"
      onSubmit={(e) => {
        e.preventDefault();
        void begin(card, s);
      }}
    >
      <p className="caution">
        <Rich
          text={
            "<b>Isolate the spindle and take it out of gear before you turn it by hand.</b> Slacken a head to a drag and never further, with a hand on it: it swings or drops by its own weight. The machine's manual and the shop's rules come first."
          }
          with={{ b: <b /> }}
        />
      </p>
      <p>
        <Rich
          text={"Allowed here: <b>{head_rise}</b>{value}"}
          values={{
            head_rise: say("{head_rise} {unit} over {head_span} {unit}", {
              head_rise: b.rules.head_rise,
              unit: b.rules.unit,
              head_span: b.rules.head_span,
            }),
            value:
              b.rules.head_school === "tilt_first"
                ? say("; side to side first, then front to back.")
                : say("; front to back first, then side to side."),
          }}
          with={{ b: <b /> }}
        />
      </p>
      <div className="setup-form">
        <Asked name={say("Between the two stations, {unit}", { unit: s.unit })} value={s.span} onChange={(span) => set({ ...s, span })} />
        <Asked name={say("One division, {unit}", { unit: s.unit })} value={s.division} onChange={(division) => set({ ...s, division })} />
        <Asked
          name={say("Cutter of the job, {cutter_unit}", { cutter_unit: s.cutter_unit })}
          value={s.cutter}
          onChange={(cutter) => set({ ...s, cutter })}
        />
      </div>
      <Refused words={error} />
      <Button type="primary" size="large" htmlType="submit" disabled={busy}>
        {say("Begin with the head")}
      </Button>
    </form>
  );
}

export function BeginVise({ bench: b, card }: { bench: Bench; card: string | null }) {
  const { begin, error, busy } = useBegin(b.machine.id);
  const [at, setAt] = useState(0);
  const chosen = b.vises[at];
  const [s, set] = useState<Vise | undefined>(chosen?.settings);
  if (!chosen || !s) return <p className="muted">{say("The register has no vise yet: an instructor adds it under Shop.")}</p>;
  const schools = {
    pivot: say("one bolt snug as the pivot, tap the loose end"),
    walk_in: say("both bolts snug, tap half of the difference away at each end"),
    long_parallel: say("over a parallel that reaches beyond the bolts"),
  };
  return (
    <form
      className="stack"
      onSubmit={(e) => {
        e.preventDefault();
        void begin(card, s);
      }}
    >
      <p className="caution">
        <Rich
          text={
            "<b>Two lift a vise, on a stopped and isolated machine.</b> Soft hammer only, never on the moving jaw, fingers never underneath. The machine's manual and the shop's rules come first."
          }
          with={{ b: <b /> }}
        />
      </p>
      <p>
        <Rich
          text={"Allowed here: <b>{vise_rise}</b>; {schools}."}
          values={{
            vise_rise: say("{vise_rise} {unit} over the jaw", { vise_rise: b.rules.vise_rise, unit: b.rules.unit }),
            schools: schools[b.rules.vise_school],
          }}
          with={{ b: <b /> }}
        />
      </p>
      <div className="row">
        <label className="asked grow">
          {say("Vise")}
          <Select
            value={at}
            onChange={(picked) => {
              setAt(picked);
              set(sure(b.vises[picked]).settings);
            }}
            options={[...b.vises.map((v, i) => ({ value: i, label: v.name }))]}
          />
        </label>
        <Choice name={say("Jaw along")} value={s.along} of={{ x: "X", y: "Y" }} onChange={(along) => set({ ...s, along: along as "x" | "y" })} />
        <Choice
          name={say("Pivot bolt")}
          value={s.pivot}
          of={s.along === "y" ? { left: say("front"), right: say("rear") } : { left: say("left"), right: say("right") }}
          onChange={(pivot) => set({ ...s, pivot: pivot as "left" | "right" })}
        />
      </div>
      <div className="setup-form">
        <Asked name={say("Read from the middle at, {unit}", { unit: s.unit })} value={s.left_at} onChange={(left_at) => set({ ...s, left_at })} />
        <Asked name={say("and at, {unit}", { unit: s.unit })} value={s.right_at} onChange={(right_at) => set({ ...s, right_at })} />
        <Asked name={say("One division, {unit}", { unit: s.unit })} value={s.division} onChange={(division) => set({ ...s, division })} />
        <Asked name={say("Its whole travel, {unit}", { unit: s.unit })} value={s.range} onChange={(range) => set({ ...s, range })} optional />
      </div>
      <WhichWay
        sense={s.sense}
        onSense={(sense) => set({ ...s, sense })}
        degrees={s.lever_degrees}
        onDegrees={(lever_degrees) => set({ ...s, lever_degrees })}
      />
      <Refused words={error} />
      <Button type="primary" size="large" htmlType="submit" disabled={busy}>
        {say("Begin with the vise")}
      </Button>
    </form>
  );
}

/** Which way is it? The tip is pushed by hand once, and the page knows from then on. */
function WhichWay({
  sense,
  onSense,
  degrees,
  onDegrees,
}: {
  sense: 1 | -1;
  onSense: (s: 1 | -1) => void;
  degrees: number;
  onDegrees: (d: number) => void;
}) {
  return (
    <fieldset className="setup-way">
      <legend>{say("Which way is it? Push the tip in by hand and look")}</legend>
      <svg viewBox="0 0 190 110" width="190" height="110" aria-hidden="true" className="setup-lever">
        <path d="M20 100H170" className="plan-scale" />
        <rect x="20" y="86" width="150" height="14" className="plan-jaw" />
        <circle cx="120" cy="34" r="22" className="plan-case" />
        <path
          d={sense > 0 ? "M120 18A16 16 0 0 1 136 34l-5 -4M136 34l3 -6" : "M120 18A16 16 0 0 0 104 34l5 -4M104 34l-3 -6"}
          className="setup-arrow"
        />
        <g transform={`translate(104 50) rotate(${-degrees})`}>
          <path d="M0 0L-52 26" className="head-arm" />
          <circle cx="-54" cy="28" r="5" className="plan-ball" />
        </g>
      </svg>
      <div className="stack">
        <div className="row">
          <Button type={sense === 1 ? "primary" : "default"} aria-pressed={sense === 1} onClick={() => onSense(1)}>
            {say("It turns clockwise")}
          </Button>
          <Button type={sense === -1 ? "primary" : "default"} aria-pressed={sense === -1} onClick={() => onSense(-1)}>
            {say("Anticlockwise")}
          </Button>
        </div>
        <label className="asked">
          {say("Lever's angle to the jaw, degrees (a plunger: 0)")}
          <Input
            inputMode="numeric"
            value={String(degrees)}
            onChange={(e) => onDegrees(Math.max(0, Math.min(60, Number(e.target.value.replace(/[^0-9.]/g, "")) || 0)))}
          />
        </label>
      </div>
    </fieldset>
  );
}

function Asked({ name, value, onChange, optional }: { name: string; value: string; onChange: (v: string) => void; optional?: boolean }) {
  return (
    <label className="asked">
      {name}
      <Input inputMode="decimal" value={value} maxLength={20} onChange={(e) => onChange(e.target.value)} required={!optional} />
    </label>
  );
}

function Choice({ name, value, of, onChange }: { name: string; value: string; of: Record<string, string>; onChange: (v: string) => void }) {
  return (
    <div className="asked" role="group" aria-label={name}>
      {name}
      <div className="row">
        {Object.entries(of).map(([k, words]) => (
          <Button key={k} type={value === k ? "primary" : "default"} aria-pressed={value === k} onClick={() => onChange(k)}>
            {words}
          </Button>
        ))}
      </div>
    </div>
  );
}
