import { Button, Input } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useAct } from "../../shared/useAct";
import { Lines } from "../../shared/Lines";
import { say } from "../../shared/say";

type Entry = Schema["HoldingView"];

const NEW = `{
 "kind": "vise",
 "unit": "in",
 "jaw": "6",
 "depth": "1.75",
 "opening": "6",
 "bolts": "7.5",
 "bolts_before": "2.75",
 "swivel": false
}`;

/** Vises, the drawer of parallels, clamps; everything that setups and rigs reckon with. */
export function Workholding({ mayChange }: { mayChange: boolean }) {
  const { data } = useQuery(queries.workholding());
  const [open, setOpen] = useState<{ id: string; name: string; file: string } | null>(null);
  return (
    <section className="card">
      <div className="between pad">
        <h2>{say("Workholding")}</h2>
        {mayChange && <Button onClick={() => setOpen({ id: newId(), name: "", file: NEW })}>{say("Add one")}</Button>}
      </div>
      <Lines
        rows={data?.holding ?? []}
        rowKey={(h) => h.id}
        showHeader={false}
        columns={[
          { key: "0", title: "", render: (_, h) => <b className="head">{h.name}</b> },
          { key: "1", title: "", render: (_, h) => words(h) },
          {
            key: "2",
            title: "",
            className: "num",
            render: (_, h) => mayChange && <Button onClick={() => setOpen({ id: h.id, name: h.name, file: h.file })}>{say("Change")}</Button>,
          },
        ]}
      />
      {open && <Change key={open.id} of={open} onDone={() => setOpen(null)} />}
    </section>
  );
}

function words({ of: x }: Entry): string {
  if (x.kind === "vise")
    return say("jaw {jaw} {unit}, {depth} deep, opens {opening}; bolts {bolts} apart; {say}", {
      jaw: x.jaw,
      unit: x.unit,
      depth: x.depth,
      opening: x.opening,
      bolts: x.bolts,
      say: x.swivel ? say("swivel base") : say("plain base"),
    });
  if (x.kind === "parallels")
    return say("{count} pairs: {listed} {unit} high", { count: x.pairs.length, listed: x.pairs.map((p) => p.height).join(" · "), unit: x.unit });
  return say("{stud} studs, straps {listed} {unit}", { stud: x.stud, listed: x.straps.join(" · "), unit: x.unit });
}

function Change({ of, onDone }: { of: { id: string; name: string; file: string }; onDone: () => void }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [name, setName] = useState(of.name);
  const [file, setFile] = useState(of.file);
  const save = () =>
    act(async () => {
      client.setQueryData(queries.workholding().queryKey, await body(api.PUT("/api/workholding", { body: { id: of.id, name, file } })));
      onDone();
    });
  return (
    <form
      className="pad stack"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <label className="asked">
        {say("Name")}
        <Input value={name} maxLength={80} onChange={(e) => setName(e.target.value)} required />
      </label>
      <label className="asked">
        {say("The entry, as JSON (docs/formats/machine.md says what each field means)")}
        <Input.TextArea rows={12} value={file} spellCheck={false} onChange={(e) => setFile(e.target.value)} />
      </label>
      {error && <p className="error">{error}</p>}
      <div className="row">
        <Button type="primary" htmlType="submit" disabled={busy}>
          {say("Save")}
        </Button>
        <Button onClick={onDone}>{say("Leave it as it was")}</Button>
      </div>
    </form>
  );
}
