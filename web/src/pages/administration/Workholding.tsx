import { AutoComplete, Button, Checkbox, Input, InputNumber, Select } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { HoldingSketch } from "../../instruments/HoldingSketch";
import { Dialog } from "../../shared/Dialog";
import { download } from "../../shared/download";
import { Leaving } from "../../shared/Leaving";
import { Lines } from "../../shared/Lines";
import { Waiting } from "../../shared/Loading";
import { PickFile } from "../../shared/PickFile";
import { say } from "../../shared/say";
import { useAct } from "../../shared/useAct";
import { EntryForm } from "../../shared/EntryForm";
import "./people.css";

type Entry = Schema["HoldingView"];
type Of = Entry["of"];
type Opened = { id: string; name: string; of: Of | null };

/** Vises, parallels, clamps, V-blocks, angle blocks, rotary tables: what setups and plans reckon with. */
export function Workholding({ mayChange }: { mayChange: boolean }) {
  const { data, error } = useQuery(queries.workholding());
  const [open, setOpen] = useState<Opened | null>(null);
  if (!data) return <Waiting error={error} />;
  return (
    <section className="card">
      <div className="between pad">
        <h2>{say("Vises, parallels, clamps, blocks, toolholders")}</h2>
        {mayChange && (
          <Button type="primary" onClick={() => setOpen({ id: newId(), name: "", of: null })}>
            {say("Add workholding")}
          </Button>
        )}
      </div>
      <Lines
        rows={data.holding}
        rowKey={(h) => h.id}
        showHeader={false}
        columns={[
          { key: "0", title: "", render: (_, h) => <b className="head">{h.name}</b> },
          { key: "1", title: "", render: (_, h) => h.words },
          {
            key: "2",
            title: "",
            className: "num",
            render: (_, h) =>
              mayChange && (
                <span className="row nowrap">
                  <Button aria-label={say("Change {name}", { name: h.name })} onClick={() => setOpen({ id: h.id, name: h.name, of: h.of })}>
                    {say("Change")}
                  </Button>
                  <Leaving thing="holding" what={h} />
                </span>
              ),
          },
        ]}
      />
      {open && <Change key={open.id} opened={open} list={data} onClose={() => setOpen(null)} />}
    </section>
  );
}

/** One thing that holds work: like one of its kind, measured at the thing itself, drawn as it is entered. */
function Change({ opened, list, onClose }: { opened: Opened; list: Schema["HoldingList"]; onClose: () => void }) {
  const { kinds } = list;
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [name, setName] = useState(opened.name);
  const [of, setOf] = useState<Of | null>(opened.of);
  const choose = (id: string) => {
    const kind = kinds.find((k) => k.id === id);
    const own = list.holding.find((h) => h.id === id);
    if (kind) setName(kind.name);
    if (own) setName(say("{name}, another", { name: own.name }).slice(0, 80));
    setOf((kind ?? own)?.of ?? null);
  };
  const read = (file: File) =>
    act(async () => {
      const found = await body(api.POST("/api/workholding/read", { body: { file: await file.text() } }));
      if (opened.of && found.of.kind !== opened.of.kind) throw new Error(say("This file is of another kind: {kind}.", { kind: found.of.kind }));
      setName(found.name);
      setOf(found.of);
    });
  const save = () =>
    act(async () => {
      if (!of) return;
      const sent = { id: opened.id, name: name.trim(), of };
      client.setQueryData(queries.workholding().queryKey, await body(api.PUT("/api/workholding", { body: sent })));
      await client.invalidateQueries();
      onClose();
    });
  return (
    <Dialog wide title={opened.of ? say("Change {name}", { name: opened.name }) : say("Add workholding")} onClose={onClose}>
      <EntryForm onSend={save} yes={opened.of ? say("Save") : say("Add")} refused={error} busy={busy} ready={!!of && name.trim().length >= 2}>
        {!opened.of && (
          <label className="asked">
            {say("Start from")}
            <Select
              showSearch={{ optionFilterProp: "label" }}
              options={[
                ...kinds.map((k) => ({ value: k.id, label: k.name })),
                ...list.holding.map((h) => ({ value: h.id, label: say("Another like {name}", { name: h.name }) })),
              ]}
              onChange={choose}
            />
          </label>
        )}
        {of && (
          <>
            <label className="asked">
              {of.kind === "vise" ? say("Its name, with the machine it stands on") : say("Its name")}
              <Input value={name} maxLength={80} onChange={(e) => setName(e.target.value)} />
            </label>
            <HoldingSketch of={of} />
            <p className="small muted">{advice(of)}</p>
            {of.kind === "vise" && <ViseFields of={of} onChange={setOf} />}
            {of.kind === "parallels" && <PairFields of={of} onChange={setOf} />}
            {of.kind === "clamps" && <ClampFields of={of} onChange={setOf} />}
            {of.kind === "v-blocks" && <VBlockFields of={of} onChange={setOf} />}
            {of.kind === "angle-blocks" && <AngleFields of={of} onChange={setOf} />}
            {of.kind === "rotary-table" && <RotaryFields of={of} onChange={setOf} />}
            {of.kind === "tool-holders" && <HolderFields of={of} ways={list.ways} tapers={list.tapers} onChange={setOf} />}
          </>
        )}
        <div className="row">
          {of && <Button onClick={() => download(name || of.kind, { name: name.trim(), of })}>{say("Download as JSON")}</Button>}
          <PickFile label={say("From a JSON file")} accept=".json,application/json" onFile={(file) => void read(file)} />
        </div>
      </EntryForm>
    </Dialog>
  );
}

type Vise = Extract<Of, { kind: "vise" }>;
type Parallels = Extract<Of, { kind: "parallels" }>;
type Clamps = Extract<Of, { kind: "clamps" }>;
type VBlocks = Extract<Of, { kind: "v-blocks" }>;
type AngleBlocks = Extract<Of, { kind: "angle-blocks" }>;
type RotaryTable = Extract<Of, { kind: "rotary-table" }>;
type ToolHolders = Extract<Of, { kind: "tool-holders" }>;

function advice(of: Of): string {
  if (of.kind === "v-blocks") return say("A plan for a bar takes the V-block that it lies in; where there is none, the plan says so.");
  if (of.kind === "angle-blocks") return say("Enter each angle once, in degrees. The list says which angles the box sets.");
  if (of.kind === "rotary-table") return say("Turn the handle through one full circle of the table and count the turns.");
  if (of.kind === "tool-holders")
    return say(
      "Once holders for a taper are entered, plans for machines with that taper use only cutters that these hold, and say of the others why not.",
    );
  return say("Measure it and put the numbers right: grip and clearance are worked out from them.");
}

function Size({ words: said, value, onChange }: { words: string; value: string; onChange: (value: string) => void }) {
  return (
    <label className="asked grow">
      {said}
      <Input inputMode="decimal" maxLength={12} value={value} onChange={(e) => onChange(e.target.value)} />
    </label>
  );
}

function ViseFields({ of, onChange }: { of: Vise; onChange: (of: Of) => void }) {
  const field = (key: "jaw" | "depth" | "opening" | "bolts" | "bolts_before", said: string) => (
    <Size words={said} value={of[key]} onChange={(value) => onChange({ ...of, [key]: value })} />
  );
  const { unit } = of;
  return (
    <>
      <div className="row wraps">
        {field("jaw", say("Jaw, along the work, {unit}", { unit }))}
        {field("depth", say("Jaw above the bed, {unit}", { unit }))}
        {field("opening", say("Opens to, {unit}", { unit }))}
      </div>
      <div className="row wraps">
        {field("bolts", say("Bolts, centre to centre, {unit}", { unit }))}
        {field("bolts_before", say("Bolt line to the fixed jaw, {unit}", { unit }))}
      </div>
      <Checkbox checked={of.swivel} onChange={(e) => onChange({ ...of, swivel: e.target.checked })}>
        {say("on a swivel base")}
      </Checkbox>
    </>
  );
}

function PairFields({ of, onChange }: { of: Parallels; onChange: (of: Of) => void }) {
  const { unit, pairs } = of;
  const sizes = ["height", "thickness", "length"] as const;
  const heads = [say("Height, {unit}", { unit }), say("Thickness, {unit}", { unit }), say("Length, {unit}", { unit })];
  const change = (n: number, more: Partial<Parallels["pairs"][number]>) =>
    onChange({ ...of, pairs: pairs.map((p, i) => (i === n ? { ...p, ...more } : p)) });
  return (
    <>
      <div className="pairs">
        {heads.map((head) => (
          <span key={head} className="small muted" aria-hidden="true">
            {head}
          </span>
        ))}
        <span />
        {pairs.map((p, n) => (
          <Fragment key={n}>
            {sizes.map((key, i) => (
              <Input
                key={key}
                inputMode="decimal"
                maxLength={12}
                aria-label={say("Pair {n}: {what}", { n: n + 1, what: heads[i] ?? "" })}
                value={p[key]}
                onChange={(e) => change(n, { [key]: e.target.value })}
              />
            ))}
            <Button
              aria-label={say("Remove the pair {height}", { height: p.height })}
              disabled={pairs.length === 1}
              onClick={() => onChange({ ...of, pairs: pairs.filter((_, i) => i !== n) })}
            >
              {say("Remove")}
            </Button>
          </Fragment>
        ))}
      </div>
      <Button onClick={() => onChange({ ...of, pairs: [...pairs, { thickness: "", length: "", ...pairs.at(-1), height: "" }] })}>
        {say("Add a pair")}
      </Button>
    </>
  );
}

function VBlockFields({ of, onChange }: { of: VBlocks; onChange: (of: Of) => void }) {
  const field = (key: "least" | "most" | "groove" | "length", said: string) => (
    <Size words={said} value={of[key]} onChange={(value) => onChange({ ...of, [key]: value })} />
  );
  const { unit } = of;
  return (
    <>
      <div className="row wraps">
        {field("least", say("Thinnest bar, {unit}", { unit }))}
        {field("most", say("Thickest bar, {unit}", { unit }))}
        {field("groove", say("Groove at its top, {unit}", { unit }))}
        {field("length", say("Block along the bar, {unit}", { unit }))}
      </div>
      <Count words={say("How many, ground as a set")} value={of.count} onChange={(count) => onChange({ ...of, count })} />
    </>
  );
}

function AngleFields({ of, onChange }: { of: AngleBlocks; onChange: (of: Of) => void }) {
  const { angles } = of;
  return (
    <>
      <div className="row wraps">
        {angles.map((angle, n) => (
          <span key={n} className="row ends">
            <Input
              inputMode="decimal"
              maxLength={12}
              className="few"
              suffix="°"
              aria-label={say("Block {n}, degrees", { n: n + 1 })}
              value={angle}
              onChange={(e) => onChange({ ...of, angles: angles.map((a, i) => (i === n ? e.target.value : a)) })}
            />
            <Button
              aria-label={say("Remove the block {angle}", { angle })}
              disabled={angles.length === 1}
              onClick={() => onChange({ ...of, angles: angles.filter((_, i) => i !== n) })}
            >
              {say("Remove")}
            </Button>
          </span>
        ))}
      </div>
      <Button onClick={() => onChange({ ...of, angles: [...angles, ""] })}>{say("Add a block")}</Button>
    </>
  );
}

function RotaryFields({ of, onChange }: { of: RotaryTable; onChange: (of: Of) => void }) {
  const { unit } = of;
  return (
    <>
      <div className="row wraps">
        <Size words={say("Across, {unit}", { unit })} value={of.diameter} onChange={(diameter) => onChange({ ...of, diameter })} />
        <Size words={say("Height lying flat, {unit}", { unit })} value={of.height} onChange={(height) => onChange({ ...of, height })} />
        <Count words={say("Handle turns to one full turn")} value={of.turns} onChange={(turns) => onChange({ ...of, turns })} />
      </div>
      <Checkbox checked={of.upright} onChange={(e) => onChange({ ...of, upright: e.target.checked })}>
        {say("stands upright too")}
      </Checkbox>
    </>
  );
}

function HolderFields(p: { of: ToolHolders; ways: Schema["HolderName"][]; tapers: string[]; onChange: (of: Of) => void }) {
  const { of, onChange } = p;
  return (
    <>
      <div className="row wraps">
        <label className="asked grow">
          {say("How they hold a cutter")}
          <Select value={of.way} options={p.ways.map((w) => ({ value: w.key, label: w.name }))} onChange={(way) => onChange({ ...of, way })} />
        </label>
        <label className="asked grow">
          {say("Taper, as the machine's entry says it")}
          <AutoComplete value={of.taper} options={p.tapers.map((value) => ({ value }))} onChange={(taper: string) => onChange({ ...of, taper })} />
        </label>
        <Count words={say("How many")} value={of.count} onChange={(count) => onChange({ ...of, count })} />
      </div>
      <Size
        words={say("Nose diameter, {unit}; empty if not measured", { unit: of.unit })}
        value={of.nose ?? ""}
        onChange={(nose) => onChange({ ...of, nose })}
      />
      <label className="asked">
        {say("What they take, {unit}, with commas between; none where it can be set", { unit: of.unit })}
        <Select
          mode="tags"
          open={false}
          suffix={null}
          tokenSeparators={[",", ";", " "]}
          value={[...of.sizes]}
          onChange={(sizes: string[]) => onChange({ ...of, sizes, count: Math.max(of.count, sizes.length) })}
        />
      </label>
    </>
  );
}

function Count({ words: said, value, onChange }: { words: string; value: number; onChange: (value: number) => void }) {
  return (
    <label className="asked">
      {said}
      <InputNumber min={1} max={999} precision={0} value={value} onChange={(count) => onChange(count ?? 1)} />
    </label>
  );
}

function ClampFields({ of, onChange }: { of: Clamps; onChange: (of: Of) => void }) {
  const { unit, straps } = of;
  return (
    <>
      <div className="row wraps ends">
        <Size words={say("Studs")} value={of.stud} onChange={(stud) => onChange({ ...of, stud })} />
        <Size words={say("Lowest heel block, {unit}", { unit })} value={of.heels} onChange={(heels) => onChange({ ...of, heels })} />
        <Size
          words={say("Width of a strap, {unit}; empty if not measured", { unit })}
          value={of.width ?? ""}
          onChange={(width) => onChange({ ...of, width })}
        />
      </div>
      {straps.map((strap, n) => (
        <div key={n} className="row ends">
          <Size
            words={say("Strap, {unit} long", { unit })}
            value={strap}
            onChange={(value) => onChange({ ...of, straps: straps.map((s, i) => (i === n ? value : s)) })}
          />
          <Button
            aria-label={say("Remove the strap {length}", { length: strap })}
            disabled={straps.length === 1}
            onClick={() => onChange({ ...of, straps: straps.filter((_, i) => i !== n) })}
          >
            {say("Remove")}
          </Button>
        </div>
      ))}
      <Button onClick={() => onChange({ ...of, straps: [...straps, ""] })}>{say("Add a strap")}</Button>
    </>
  );
}
