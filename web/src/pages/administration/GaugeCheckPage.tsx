import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Segmented } from "antd";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Studies } from "../practice/Studies";
import { ErrorChart } from "../../instruments/ErrorChart";
import { Lines } from "../../shared/Lines";
import { Leaving } from "../../shared/Leaving";
import { Waiting } from "../../shared/Loading";
import { PinDialog } from "../../shared/PinDialog";
import { useMe } from "../../shared/me";
import { say } from "../../shared/say";
import { day, dayOfYear, when } from "../../shared/time";
import { useAct } from "../../shared/useAct";
import { Refused } from "../../shared/Refused";
import "../../look/pictures.css";
import "./people.css";

type Page = Schema["GaugeCheckPage"];
type Checked = Schema["CheckedView"];
type Row = { size: string; readings: string };

/** One gauge: checked against blocks, or by eye; what came of the checks before. */
export default function GaugeCheckPage() {
  const { gauge = "" } = useParams();
  const me = useMe();
  const navigate = useNavigate();
  const { data, error } = useQuery(queries.gaugeChecks(gauge));
  if (!data) return <Waiting error={error} />;
  const { unit } = data.gauge;
  return (
    <main className="page stack">
      <div>
        <h1>{data.gauge.name}</h1>
        <p className="muted">
          {data.answers
            ? say("answers yes or no; next check {day}", { day: dayOfYear(data.due) })
            : say("{least} to {most} {unit}, uncertainty ±{sure} {unit}, zero error {zero} {unit}; next check {day}", {
                least: data.least,
                most: data.most,
                unit,
                sure: data.uncertainty,
                zero: data.zero_error,
                day: dayOfYear(data.due),
              })}
        </p>
        {data.gauge.cannot_decide && <p className="caution">{data.gauge.cannot_decide}</p>}
        {me.role === "instructor" && <Leaving thing="gauge" what={data.gauge} onGone={() => void navigate("/shop/gauges")} />}
      </div>
      {me.role === "instructor" && <Check key={data.past.length} page={data} />}
      {!data.answers && <Studies gauge={gauge} />}
      <Judged page={data} />
      <Past page={data} />
    </main>
  );
}

function Check({ page: p }: { page: Page }) {
  const { act, error, busy } = useAct();
  const { unit } = p.gauge;
  const [rows, setRows] = useState<Row[]>(() => p.sizes.map((size) => ({ size, readings: "" })));
  const [sure, setSure] = useState(p.uncertainty);
  const [blocksSure, setBlocksSure] = useState(p.blocks_sure);
  const [found, setFound] = useState<Checked | null>(null);
  const [fine, setFine] = useState(true);
  const [keeping, setKeeping] = useState(false);
  const change = (n: number, more: Partial<Row>) => {
    setRows(rows.map((r, i) => (i === n ? { ...r, ...more } : r)));
    setFound(null);
  };
  const entry = {
    blocks: rows.filter((r) => r.readings.trim()).map((r) => ({ size: r.size.trim(), readings: r.readings.trim().split(/\s+/) })),
    blocks_sure: blocksSure,
    uncertainty: sure,
  };
  const look = () =>
    act(async () => setFound(await body(api.POST("/api/gauges/{gauge}/checks/look", { params: { path: { gauge: p.gauge.id } }, body: entry }))));
  return (
    <section className="card pad stack" aria-label={say("Check it now")}>
      <h2>{say("Check it now")}</h2>
      {p.answers ? (
        <>
          <p>{say("Clean it and inspect it in good light: no nicks, wear or rust, marks readable. Compare it with a master if the shop has one.")}</p>
          <Segmented
            aria-label={say("Condition")}
            value={fine}
            onChange={setFine}
            options={[
              { value: true, label: say("undamaged") },
              { value: false, label: say("damaged or worn") },
            ]}
          />
        </>
      ) : (
        <>
          <p className="small muted">
            {say(
              "Wipe gauge and blocks clean and let them come to the same temperature. Read each block two or three times, lifting in between. Type what the gauge shows, uncorrected, with spaces between readings.",
            )}
          </p>
          <div className="gauge-check">
            <div className="stack">
              <div className="blocks">
                <span className="small muted" aria-hidden="true">
                  {say("Block, {unit}", { unit })}
                </span>
                <span className="small muted" aria-hidden="true">
                  {say("Readings, {unit}", { unit })}
                </span>
                <span />
                {rows.map((r, n) => (
                  <BlockRow key={n} row={r} n={n} onChange={(more) => change(n, more)} onRemove={() => setRows(rows.filter((_, i) => i !== n))} />
                ))}
              </div>
              <Button onClick={() => setRows([...rows, { size: "", readings: "" }])}>{say("Another block")}</Button>
              <div className="row wraps">
                <label className="asked grow">
                  {say("Uncertainty of the blocks ±, {unit}", { unit })}
                  <Input inputMode="decimal" maxLength={12} value={blocksSure} onChange={(e) => setBlocksSure(e.target.value)} />
                </label>
                <label className="asked grow">
                  {say("Uncertainty of the gauge ±, {unit}", { unit })}
                  <Input
                    inputMode="decimal"
                    maxLength={12}
                    value={sure}
                    onChange={(e) => {
                      setSure(e.target.value);
                      setFound(null);
                    }}
                  />
                </label>
              </div>
            </div>
            <div className="stack" role="status">
              {found && (
                <>
                  <ErrorChart points={found.points} sure={sure} unit={unit} />
                  {found.said.map((x, n) => (
                    <p key={x} className={n > 0 ? "caution" : found.holds ? "run-said good" : "error"}>
                      {x}
                    </p>
                  ))}
                </>
              )}
            </div>
          </div>
        </>
      )}
      <Refused words={error} />
      <div className="row wraps">
        {!p.answers && (
          <Button size="large" disabled={busy || entry.blocks.length === 0} onClick={() => void look()}>
            {say("Evaluate")}
          </Button>
        )}
        <Button type="primary" size="large" disabled={!p.answers && !found} onClick={() => setKeeping(true)}>
          {say("Save this check")}
        </Button>
      </div>
      {keeping && <Keep page={p} entry={entry} fine={p.answers ? fine : (found?.holds ?? false)} onClose={() => setKeeping(false)} />}
    </section>
  );
}

function BlockRow({ row: r, n, onChange, onRemove }: { row: Row; n: number; onChange: (more: Partial<Row>) => void; onRemove: () => void }) {
  return (
    <>
      <Input
        inputMode="decimal"
        maxLength={12}
        aria-label={say("Size of block {n}", { n: n + 1 })}
        value={r.size}
        onChange={(e) => onChange({ size: e.target.value })}
      />
      <Input
        inputMode="decimal"
        maxLength={80}
        aria-label={say("Readings of block {n}", { n: n + 1 })}
        value={r.readings}
        onChange={(e) => onChange({ readings: e.target.value })}
      />
      <Button aria-label={say("Remove block {n}", { n: n + 1 })} onClick={onRemove}>
        {say("Remove")}
      </Button>
    </>
  );
}

function Keep({ page: p, entry, fine, onClose }: { page: Page; entry: Schema["CheckEntry"]; fine: boolean; onClose: () => void }) {
  const client = useQueryClient();
  const [id] = useState(newId);
  const [standard, setStandard] = useState(p.past[0]?.standard ?? "");
  const [due, setDue] = useState("");
  return (
    <PinDialog
      title={fine ? say("Save: gauge stays in use") : say("Save: gauge out of use")}
      act={say("Save this check")}
      danger={!fine}
      onClose={onClose}
      onAct={async (pin) => {
        const command = { ...entry, id, standard, fine, due, pin };
        const page = await body(api.POST("/api/gauges/{gauge}/checks", { params: { path: { gauge: p.gauge.id } }, body: command }));
        client.setQueryData(queries.gaugeChecks(p.gauge.id).queryKey, page);
        await client.invalidateQueries();
      }}
    >
      {!fine && <p className="caution">{say("It is tagged out: its readings decide nothing until an instructor clears the tag.")}</p>}
      <label className="asked">
        {p.answers ? say("What it was compared with, or “by eye”") : say("Which blocks, with the number of the set")}
        <Input maxLength={80} value={standard} onChange={(e) => setStandard(e.target.value)} />
      </label>
      <label className="asked">
        {say("The next check is due on")}
        <Input type="date" value={due} onChange={(e) => setDue(e.target.value)} />
      </label>
    </PinDialog>
  );
}

/** What was measured with it since it was known to be good: what a failed check calls into question. */
function Judged({ page: p }: { page: Page }) {
  if (p.judged.length === 0) return null;
  return (
    <section className="card">
      <h2 className="pad">
        {p.since ? say("Measured with it since it passed on {day}", { day: day(p.since) }) : say("Measured with it; it has never been checked here")}
      </h2>
      {p.gauge.cannot_decide && (
        <p className="caution pad">{say("If it reads wrong, these parts are in question. Measure those again that were accepted by it.")}</p>
      )}
      <Lines
        rows={p.judged}
        rowKey={(j) => j.assignment}
        columns={[
          { key: "part", title: say("Part"), render: (_, j) => <Link to={`/job/${j.assignment}`}>{j.part}</Link> },
          { key: "who", title: say("Student"), render: (_, j) => j.student },
          { key: "many", title: say("Readings"), className: "num", render: (_, j) => j.readings },
          { key: "last", title: say("Last"), className: "nowrap", render: (_, j) => when(j.last) },
          { key: "what", title: say("Part is"), render: (_, j) => (j.accepted ? say("accepted") : say("not decided or not accepted")) },
        ]}
      />
    </section>
  );
}

function Past({ page: p }: { page: Page }) {
  if (p.past.length === 0) return <p className="muted">{say("No check is recorded yet.")}</p>;
  return (
    <section className="card">
      <h2 className="pad">{say("Past checks")}</h2>
      <Lines
        rows={p.past}
        rowKey={(c) => c.at}
        columns={[
          { key: "at", title: say("When"), className: "nowrap", render: (_, c) => when(c.at) },
          { key: "by", title: say("By"), render: (_, c) => c.by },
          { key: "with", title: say("With"), render: (_, c) => c.standard },
          { key: "zero", title: say("Zero error, {unit}", { unit: p.gauge.unit }), className: "num", render: (_, c) => !p.answers && c.zero_error },
          {
            key: "sure",
            title: say("Uncertainty ±, {unit}", { unit: p.gauge.unit }),
            className: "num",
            render: (_, c) => !p.answers && c.uncertainty,
          },
          {
            key: "what",
            title: say("Result"),
            render: (_, c) =>
              c.holds ? say("passed, next check {day}", { day: c.due ? dayOfYear(c.due) : "" }) : <span className="needs wrap">{c.words}</span>,
          },
        ]}
      />
    </section>
  );
}
