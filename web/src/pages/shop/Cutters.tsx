import { Waiting } from "../../shared/Loading";
import { Button, Input, Select } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import { Leaving } from "../../shared/Leaving";
import { Lines } from "../../shared/Lines";
import { say } from "../../shared/say";
import { NewCutters } from "./NewCutters";
import { Refused } from "../../shared/Refused";

type Cutter = Schema["CutterView"];

/** The register of cutters: what each really measures, how many there are, how it is held and what can go wrong. */
export function Cutters() {
  const { data, error } = useQuery(queries.stock());
  const [text, setText] = useState("");
  const [kind, setKind] = useState("end mill");
  // where the code on a label leads
  const [asked] = useSearchParams();
  const [chosen, setChosen] = useState(asked.get("cutter") ?? "");
  const [adding, setAdding] = useState(false);
  const me = useMe();
  if (!data) return <Waiting error={error} />;
  const add = me.role === "instructor" && (
    <Button type="primary" onClick={() => setAdding(true)}>
      {say("Add cutters")}
    </Button>
  );
  const dialog = adding && <NewCutters onClose={() => setAdding(false)} />;
  if (data.cutters.length === 0)
    return (
      <section className="card pad stack">
        <p>{say("No cutter is entered yet. Add what lies in each drawer, or import a list under “Import and export”.")}</p>
        <p>{add}</p>
        {dialog}
      </section>
    );
  const kinds = [...new Set(data.cutters.map((c) => c.of.kind))];
  const words = text.trim().toLowerCase();
  const hits = data.cutters.filter((c) => (words ? c.of.name.toLowerCase().includes(words) : c.of.kind === kind));
  const one = data.cutters.find((c) => c.id === chosen) ?? (data.low.length > 0 ? undefined : hits[0]);
  return (
    <div className="crib-columns">
      <section className="card">
        <div className="pad crib-filter">
          <Select
            showSearch={{ optionFilterProp: "label" }}
            aria-label={say("Kind")}
            value={kind}
            onChange={(picked) => setKind(picked)}
            options={[...kinds.map((k) => ({ value: k, label: `${say(k)}, ${data.cutters.filter((c) => c.of.kind === k).length}` }))]}
          />
          <Input placeholder={say("or a name")} aria-label={say("Name")} value={text} maxLength={60} onChange={(e) => setText(e.target.value)} />
          {add}
        </div>
        {dialog}
        <Lines
          className="crib-table"
          rows={hits.slice(0, 80)}
          rowKey={(c) => c.id}
          onRow={(c) => ({ className: c.id === one?.id ? "on" : "", onClick: () => setChosen(c.id) })}
          columns={[
            {
              key: "0",
              title: say("Cutter"),
              render: (_, c) => (
                <>
                  <Button type="text" className="plain" onClick={() => setChosen(c.id)}>
                    {c.of.name}
                  </Button>
                  {c.tagged_out && <span className="needs">{say("tagged out")}</span>}
                </>
              ),
            },
            {
              key: "1",
              title: say("Cuts"),
              className: "num",
              render: (_, c) => (
                <>
                  {c.of.measured ?? c.of.diameter} {c.of.unit}
                </>
              ),
            },
            { key: "2", title: say("Teeth"), className: "num", render: (_, c) => c.of.teeth || "" },
            {
              key: "3",
              title: say("In"),
              className: "num",
              render: (_, c) => <>{say("{owned} of {owned2}", { owned: c.of.owned - c.out, owned2: c.of.owned })}</>,
            },
          ]}
        />
      </section>
      {one ? <One key={one.id} cutter={one} /> : <Low low={data.low} onChoose={setChosen} />}
    </div>
  );
}

/** What is to be bought or ground: of which there are fewer than the shop keeps. */
function Low({ low, onChoose }: { low: Schema["LowView"][]; onChoose: (id: string) => void }) {
  if (low.length === 0) return null;
  return (
    <section className="card pad stack crib-first">
      <h2>{say("Low")}</h2>
      <Lines
        rows={low}
        rowKey={(x) => x.id}
        columns={[
          {
            key: "0",
            title: say("Cutter"),
            render: (_, x) => (
              <>
                <Button type="text" className="plain" onClick={() => onChoose(x.id)}>
                  {x.name}
                </Button>
                {x.tagged_out && <span className="needs">{say("tagged out")}</span>}
              </>
            ),
          },
          { key: "1", title: say("There"), className: "num", render: (_, x) => x.owned },
          { key: "2", title: say("Kept"), className: "num", render: (_, x) => x.keep },
          { key: "3", title: say("To get"), className: "num", render: (_, x) => <b>{x.lacking}</b> },
        ]}
      />
      <p className="small muted">{say("What broke or went missing is off the number already; a tagged cutter counts as none.")}</p>
    </section>
  );
}

function One({ cutter: c }: { cutter: Cutter }) {
  const me = useMe();
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [measured, setMeasured] = useState(c.of.measured ?? "");
  const [owned, setOwned] = useState(String(c.of.owned));
  const [keep, setKeep] = useState(String(c.of.keep));
  const [place, setPlace] = useState(c.of.place);
  const [stickout, setStickout] = useState(c.of.stickout ?? "");
  const [note, setNote] = useState("");
  const staff = me.role === "instructor" || me.role === "assistant";
  const save = () =>
    act(async () => {
      const sent = { measured, owned: Number(owned), keep: Number(keep), place, stickout };
      client.setQueryData(queries.stock().queryKey, await body(api.PUT("/api/cutters/{cutter}", { params: { path: { cutter: c.id } }, body: sent })));
    });
  const tag = () =>
    act(async () => {
      await body(api.POST("/api/tags", { body: { id: newId(), machine: null, instrument: null, cutter: c.id, note } }));
      setNote("");
      await client.invalidateQueries({ queryKey: ["stock"] });
    });
  const lines: [string, string][] = [
    [say("Nominal"), `${c.of.diameter} ${c.of.unit}`],
    [say("Really"), c.of.measured ? say("{measured} {unit}, reground", { measured: c.of.measured, unit: c.of.unit }) : say("as bought")],
    [say("Made of"), say(c.of.made_of)],
    [say("Teeth"), c.of.teeth ? String(c.of.teeth) : ""],
    [c.on_arbor ? say("Width") : say("Cuts to a depth of"), c.of.length ? `${c.of.length} ${c.of.unit}` : ""],
    [say("Stick-out"), c.of.stickout ? `${c.of.stickout} ${c.of.unit}` : ""],
    [say("Angle"), c.of.angle ? `${c.of.angle}°` : ""],
    [say("Thread"), c.of.thread && `${c.of.thread}, ${c.of.tap}`],
    [say("Dial reads on the"), c.of.dial],
    [say("Numbers from"), say(c.of.source)],
  ];
  const here = useRef<HTMLDivElement>(null);
  // where it stands above the list, whoever touched a line far down sees what came of it
  useEffect(() => {
    if (here.current && here.current.getBoundingClientRect().top < 0) here.current.scrollIntoView();
  }, []);
  return (
    <div className="stack crib-first" ref={here}>
      <section className="card pad stack">
        <h2>{c.of.name}</h2>
        {c.tagged_out && (
          <p className="error">
            <b>{say("Tagged out:")}</b> {c.tagged_out}
          </p>
        )}
        {c.on_arbor ? <OnArbor cutter={c} /> : <Silhouette cutter={c} />}
        <Lines
          rows={lines.filter(([, v]) => v)}
          rowKey={([k]) => k}
          showHeader={false}
          columns={[
            { key: "0", title: "", className: "muted", render: (_, [k]) => k },
            { key: "1", title: "", className: "num", render: (_, [, v]) => v },
          ]}
        />
        {c.cautions.map((x) => (
          <p key={x} className="caution small">
            {x}
          </p>
        ))}
      </section>
      {staff && (
        <section className="card pad stack" aria-label={say("Change this cutter")}>
          <div className="crib-change">
            <label className="asked">
              {say("Measured, {unit}; empty as bought", { unit: c.of.unit })}
              <Input inputMode="decimal" value={measured} maxLength={12} onChange={(e) => setMeasured(e.target.value)} />
            </label>
            {!c.on_arbor && (
              <label className="asked">
                {say("Stick-out, {unit}; empty if unknown", { unit: c.of.unit })}
                <Input inputMode="decimal" value={stickout} maxLength={12} onChange={(e) => setStickout(e.target.value)} />
              </label>
            )}
            <label className="asked">
              {say("How many")}
              <Input inputMode="numeric" value={owned} maxLength={3} onChange={(e) => setOwned(e.target.value)} />
            </label>
            <label className="asked">
              {say("Low below (0: not watched)")}
              <Input inputMode="numeric" value={keep} maxLength={3} onChange={(e) => setKeep(e.target.value.replace(/\D/g, ""))} />
            </label>
            <label className="asked">
              {say("Where")}
              <Input value={place} maxLength={80} onChange={(e) => setPlace(e.target.value)} />
            </label>
            <Button type="primary" disabled={busy || owned.trim() === ""} onClick={() => void save()}>
              {say("Save")}
            </Button>
          </div>
          <Refused words={error} />
          {me.role === "instructor" && (
            <p>
              <Leaving thing="cutter" what={{ id: c.id, name: c.of.name }} />
            </p>
          )}
        </section>
      )}
      {me.role !== "auditor" && !c.tagged_out && (
        <section className="card pad crib-worse">
          <label className="asked grow">
            {say("Close it: what is wrong with it?")}
            <Input value={note} maxLength={300} onChange={(e) => setNote(e.target.value)} />
          </label>
          <Button danger disabled={busy || note.trim().length < 3} onClick={() => void tag()}>
            {say("Tag out")}
          </Button>
        </section>
      )}
    </div>
  );
}

/** A cutter on its arbor, seen along the table: its width and its diameter to one scale, collars to both sides. */
function OnArbor({ cutter: c }: { cutter: Cutter }) {
  const [d, wide] = [Number(c.of.measured ?? c.of.diameter), Number(c.of.length)];
  const s = Math.min(88 / d, 240 / wide);
  const [h, w] = [(d * s) / 2, (wide * s) / 2];
  const teeth = Math.max(2, Math.round(c.of.teeth / 2));
  const edges = Array.from({ length: teeth }, (_, i) => -h + (2 * h * (i + 0.5)) / teeth);
  return (
    <svg viewBox="0 0 420 100" className="crib-silhouette" role="img" aria-label={say("{name} on its arbor", { name: c.of.name })}>
      <g transform="translate(210 50)">
        <path d="M-200 -9H200V9H-200Z" className="shank" />
        <path d={`M${-w - 60} -17H${-w}V17H${-w - 60}ZM${w} -17H${w + 60}V17H${w}Z`} className="holder" />
        <path d={`M${-w} ${-h}H${w}V${h}H${-w}Z`} />
        {edges.map((y) => (
          <path key={y} d={`M${-w} ${y}L${w} ${y + Math.min(6, w / 2)}`} className="edge" />
        ))}
      </g>
    </svg>
  );
}

/** The cutter from the side: shank, cutting length, the tip of its kind. Widths and lengths to one scale, as far as known. */
function Silhouette({ cutter: c }: { cutter: Cutter }) {
  const d = Number(c.of.measured ?? c.of.diameter);
  const cuts = Number(c.of.length ?? 0) || d * 2;
  const out = Number(c.of.stickout ?? 0);
  const shank = out ? out - cuts : d * 1.5;
  const s = Math.min(70 / d, 300 / (cuts + shank));
  const [w, l, tail] = [(d * s) / 2, cuts * s, shank * s];
  const pointed = c.of.kind === "drill" || c.of.kind === "spot drill" || c.of.kind === "countersink" || c.of.kind === "centre drill";
  const tip = pointed
    ? `L${l - w * 0.6} ${50 + w}L${l} 50L${l - w * 0.6} ${50 - w}`
    : c.of.kind === "ball end mill"
      ? `L${l - w} ${50 + w}A${w} ${w} 0 0 0 ${l - w} ${50 - w}`
      : `L${l} ${50 + w}L${l} ${50 - w}`;
  const lines = Array.from({ length: Math.max(c.of.teeth, 1) * 2 }, (_, i) => (i * l) / (Math.max(c.of.teeth, 1) * 2));
  return (
    <svg viewBox="0 0 420 100" className="crib-silhouette" role="img" aria-label={say("{name} from the side", { name: c.of.name })}>
      <g transform={`translate(${tail + (420 - tail - l) / 2} 0)`}>
        {out > 0 && <path d={`M${-tail - 30} 6H${-tail}V94H${-tail - 30}Z`} className="holder" />}
        <path d={`M${-tail} ${50 - w * 0.9}H0V${50 + w * 0.9}H${-tail}Z`} className="shank" />
        <path d={`M0 ${50 - w}L0 ${50 + w}${tip}Z`} />
        {!pointed && lines.map((x) => <path key={x} d={`M${x} ${50 + w}Q${x + w * 0.5} 50 ${Math.min(x + w, l)} ${50 - w}`} className="edge" />)}
      </g>
    </svg>
  );
}
