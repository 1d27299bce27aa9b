import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Input, InputNumber, Segmented, Select } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { HandleDial } from "../../instruments/HandleDial";
import { Waiting } from "../../shared/Loading";
import { say } from "../../shared/say";
import { useAct } from "../../shared/useAct";
import { Refused } from "../../shared/Refused";
import "./people.css";

type Kind = Schema["MachineKindView"];
type Handle = Schema["Handle"];
type Walked = Schema["Walked"];
type Kinds = Schema["MachineKinds"];

const WAY_WORDS: Record<Schema["Way"], string> = {
  left: say("left"),
  right: say("right"),
  away: say("away from me"),
  towards: say("towards me"),
  up: say("up"),
  down: say("down"),
};
const MOVES: Record<Schema["Axis"], string> = {
  x: say("the table"),
  y: say("the table"),
  knee: say("the knee"),
  quill: say("the quill"),
};
const AXES: Record<Schema["Axis"], string> = { x: say("X handle"), y: say("Y handle"), knee: say("Knee handle"), quill: say("Quill handle") };

/** A machine is entered like one of its kind, then walked round: plate, belts, and handle by handle. */
export default function NewMachinePage() {
  const { data, error } = useQuery(queries.machineKinds());
  const [kind, setKind] = useState<Kind | null>(null);
  if (!data) return <Waiting error={error} />;
  return (
    <main className="page stack">
      <h1>{say("A new machine")}</h1>
      {!kind && (
        <>
          <p>{say("Which is it most like? You correct what is different next, at the machine.")}</p>
          <KindList kinds={data.kinds.filter((k) => !k.own)} onChoose={setKind} />
          {data.kinds.some((k) => k.own) && (
            <>
              <h2>{say("Or copy a machine of this shop")}</h2>
              <KindList kinds={data.kinds.filter((k) => k.own)} onChoose={setKind} />
            </>
          )}
        </>
      )}
      {kind && <Walk key={kind.id} kind={kind} ways={data.ways} onBack={() => setKind(null)} />}
    </main>
  );
}

function KindList({ kinds, onChoose }: { kinds: readonly Kind[]; onChoose: (kind: Kind) => void }) {
  return (
    <div className="kinds">
      {kinds.map((k) => (
        <Button key={k.id} type="text" className="card pad kind" onClick={() => onChoose(k)}>
          <b>{k.name}</b>
          <span className="small muted">{k.about}</span>
        </Button>
      ))}
    </div>
  );
}

function asWalked({ spec: s }: Kind): Walked {
  const { make, travel, quill_travel, handles, readout, power_feed } = s;
  return { make: make === "not given" ? "" : make, travel, quill_travel, handles, readout, power_feed, ...speeds(s.spindle) };
}
const speeds = (s: Schema["Spindle"]) => ({ watts: s.watts, steps: s.steps, ranges: s.ranges });
const numbers = (text: string) =>
  text
    .split(/[^\d]+/)
    .filter(Boolean)
    .map(Number);

function Walk({ kind, ways, onBack }: { kind: Kind; ways: Kinds["ways"]; onBack: () => void }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { act, error, busy } = useAct();
  const [id] = useState(newId);
  const [name, setName] = useState("");
  const [it, setIt] = useState<Walked>(() => asWalked(kind));
  const [steps, setSteps] = useState(it.steps.join(", "));
  const [ranges, setRanges] = useState(it.ranges.map((r) => r.join(" to ")).join(", "));
  const unit = kind.spec.unit;
  // what its kind has and was taken away here can be put back
  const missing = kind.spec.handles.filter((h) => !it.handles.some((x) => x.axis === h.axis && x.place === h.place));
  const change = (of: Partial<Walked>) => setIt({ ...it, ...of });
  const travel = (n: number, text: string) => {
    const [along = "", across = "", up = ""] = it.travel;
    change({ travel: [n === 0 ? text : along, n === 1 ? text : across, n === 2 ? text : up] });
  };
  const handle = (n: number, of: Partial<Handle>) => change({ handles: it.handles.map((h, i) => (i === n ? { ...h, ...of } : h)) });
  const pairs = (text: string): [number, number][] => {
    const all = numbers(text);
    return all.flatMap<[number, number]>((low, i) => (i % 2 === 0 ? [[low, all[i + 1] ?? 0]] : []));
  };
  const save = () =>
    act(async () => {
      const walked = { ...it, make: it.make.trim() || say("not given"), steps: numbers(steps), ranges: pairs(ranges) };
      const made = await body(api.POST("/api/machines", { body: { id, name: name.trim(), about: "", kind: kind.id, walked } }));
      await client.invalidateQueries();
      await navigate(`/machines/${made.machine.id}`);
    });
  return (
    <form
      className="stack"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <section className="card pad stack">
        <h2>{kind.name}</h2>
        <div className="row wraps">
          <label className="asked grow">
            {say("What it is called in the shop")}
            <Input autoFocus value={name} maxLength={80} onChange={(e) => setName(e.target.value)} />
          </label>
          <label className="asked grow">
            {say("Make and type, from its plate")}
            <Input value={it.make} maxLength={60} onChange={(e) => change({ make: e.target.value })} />
          </label>
        </div>
        <div className="row wraps">
          {(
            [
              say("Travel left to right, {unit}", { unit }),
              say("Travel in and out, {unit}", { unit }),
              say("Travel up and down, {unit}", { unit }),
            ] as const
          ).map((words, n) => (
            <label key={words} className="asked grow">
              {words}
              <Input inputMode="decimal" value={it.travel[n]} maxLength={12} onChange={(e) => travel(n, e.target.value)} />
            </label>
          ))}
          <label className="asked grow">
            {say("Quill travel, {unit}", { unit })}
            <Input inputMode="decimal" value={it.quill_travel} maxLength={12} onChange={(e) => change({ quill_travel: e.target.value })} />
          </label>
        </div>
        <div className="row wraps">
          {it.ranges.length === 0 ? (
            <label className="asked grow">
              {say("Its speeds, rpm, as on the plate, from the slowest")}
              <Input value={steps} maxLength={200} onChange={(e) => setSteps(e.target.value)} />
            </label>
          ) : (
            <label className="asked grow">
              {say("Its ranges, rpm, each from its lowest to its highest")}
              <Input value={ranges} maxLength={120} onChange={(e) => setRanges(e.target.value)} />
            </label>
          )}
          <label className="asked">
            {say("Motor, W")}
            <InputNumber value={it.watts} min={0} onChange={(v) => change({ watts: v ?? 0 })} />
          </label>
        </div>
        <div className="row wraps">
          <On name={say("Readout on")} axes={["x", "y", "z"]} value={it.readout} onChange={(readout) => change({ readout })} />
          <On name={say("Power feed on")} axes={["x", "y", "z"]} value={it.power_feed} onChange={(power_feed) => change({ power_feed })} />
        </div>
      </section>
      <p className="caution">{say("Isolate the spindle. Turn each handle by hand, clear of vise and work, and watch the table.")}</p>
      {it.handles.map((h, n) => (
        <section key={n} className="card pad stack" data-handle={h.axis}>
          <div className="between">
            <h2>{say("{handle}, {place}", { handle: AXES[h.axis], place: h.place })}</h2>
            <Button disabled={it.handles.length === 1} onClick={() => change({ handles: it.handles.filter((_, i) => i !== n) })}>
              {say("Remove this handle")}
            </Button>
          </div>
          <div className="row wraps">
            <HandleDial
              clockwise={h.clockwise}
              said={say("{place}: turned clockwise, {goes} {clockwise}", {
                place: h.place,
                goes: say("{what} goes", { what: MOVES[h.axis] }),
                clockwise: WAY_WORDS[h.clockwise],
              })}
            />
            <label className="asked">
              {say("Turn it clockwise: {what} goes", { what: MOVES[h.axis] })}
              <Segmented
                aria-label={say("Turn it clockwise: {what} goes", { what: MOVES[h.axis] })}
                value={h.clockwise}
                options={(ways[h.axis] ?? []).map((w) => ({ value: w, label: WAY_WORDS[w] }))}
                onChange={(clockwise) => handle(n, { clockwise })}
              />
            </label>
            <label className="asked">
              {say("and the numbers on the dial")}
              <Segmented
                aria-label={say("and the numbers on the dial")}
                value={h.dial_up}
                options={[
                  { value: "clockwise" as const, label: say("rise") },
                  { value: "anticlockwise" as const, label: say("fall") },
                ]}
                onChange={(dial_up) => handle(n, { dial_up })}
              />
            </label>
            <label className="asked">
              {say("One whole turn moves it")}
              <span className="row">
                <Input inputMode="decimal" value={h.per_turn} maxLength={12} onChange={(e) => handle(n, { per_turn: e.target.value })} />
                <Select
                  aria-label={say("Unit of this dial")}
                  value={h.unit}
                  options={(["in", "mm"] as const).map((u) => ({ value: u, label: u }))}
                  onChange={(u) => handle(n, { unit: u })}
                />
              </span>
            </label>
            <label className="asked">
              {say("Divisions all round")}
              <InputNumber value={h.graduations} min={0} onChange={(v) => handle(n, { graduations: v ?? 0 })} />
            </label>
          </div>
        </section>
      ))}
      {missing.length > 0 && (
        <div className="row wraps">
          {missing.map((h) => (
            <Button key={`${h.axis} ${h.place}`} onClick={() => change({ handles: [...it.handles, h] })}>
              {say("Add the {handle}, {place}", { handle: AXES[h.axis], place: h.place })}
            </Button>
          ))}
        </div>
      )}
      <Refused words={error} />
      <p className="small muted">{say("Backlash is measured next, on the machine's own page, and head and vise are set up there.")}</p>
      <div className="row">
        <Button size="large" onClick={onBack}>
          {say("Another kind")}
        </Button>
        <Button type="primary" size="large" className="grow" htmlType="submit" disabled={busy || name.trim().length < 2}>
          {say("Add the machine")}
        </Button>
      </div>
    </form>
  );
}

function On(p: { name: string; axes: string[]; value: readonly string[]; onChange: (axes: string[]) => void }) {
  return (
    <span className="asked">
      {p.name}
      <Checkbox.Group value={[...p.value]} options={p.axes.map((a) => ({ value: a, label: a.toUpperCase() }))} onChange={p.onChange} />
    </span>
  );
}
