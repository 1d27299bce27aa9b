import { sure } from "../../shared/sure";
import { Waiting } from "../../shared/Loading";
import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import { MaterialForm } from "./MaterialForm";
import { Leaving } from "../../shared/Leaving";
import { Lines } from "../../shared/Lines";
import { Rich, say } from "../../shared/say";

const WIDE = 460;

/** The materials: how fast each is cut, beside all others; its fluid and what to look out for. */
export function Materials() {
  const { data, error } = useQuery(queries.stock());
  const [chosen, setChosen] = useState("");
  const [form, setForm] = useState<string>();
  const teaches = useMe().role === "instructor";
  const [made, setMade] = useState<"high-speed steel" | "carbide">("high-speed steel");
  if (!data) return <Waiting error={error} />;
  const dialog = form !== undefined && <MaterialForm {...(form ? { of: form } : {})} onClose={() => setForm(undefined)} />;
  const add = teaches && <Button onClick={() => setForm("")}>{say("Add a material")}</Button>;
  if (data.materials.length === 0)
    return (
      <div className="stack">
        <p className="muted">{say("No material is entered yet. Add one, or import a table under “Import and export”.")}</p>
        <p>{add}</p>
        {dialog}
      </div>
    );
  const one = data.materials.find((m) => m.of.material.key === chosen) ?? sure(data.materials[0]);
  const speeds = data.materials.map((m) => m.of.ranges.find((r) => r.cutter === made && r.operation === "milling"));
  const most = Math.max(1, ...speeds.map((r) => Number(r?.v_high ?? 0)));
  return (
    <div className="crib-columns">
      <section className="card pad stack">
        <div className="between">
          <h2>{say("Cutting speed in milling")}</h2>
          <span className="crib-places" role="radiogroup" aria-label={say("Cutter of")}>
            {(["high-speed steel", "carbide"] as const).map((m) => (
              <button key={m} role="radio" aria-checked={m === made} className={m === made ? "on" : ""} onClick={() => setMade(m)}>
                {m}
              </button>
            ))}
          </span>
        </div>
        {data.materials.map((m, i) => {
          const r = speeds[i];
          const at = (v: string | undefined) => (Number(v ?? 0) / most) * WIDE;
          return (
            <button key={m.of.material.key} className={`crib-material ${m === one ? "on" : ""}`} onClick={() => setChosen(m.of.material.key)}>
              <span>{m.of.material.name}</span>
              <svg
                viewBox={`0 0 ${WIDE} 22`}
                role="img"
                aria-label={r ? say("{v_low} to {v_high} m/min", { v_low: r.v_low, v_high: r.v_high }) : say("no range")}
              >
                <path d={`M0 19H${WIDE}`} />
                {r && <rect x={at(r.v_low)} y="4" width={Math.max(at(r.v_high) - at(r.v_low), 3)} height="12" />}
              </svg>
              <span className="num small">{r ? say("{v_low}–{v_high} m/min", { v_low: r.v_low, v_high: r.v_high }) : "–"}</span>
            </button>
          );
        })}
        {add && <p>{add}</p>}
        <p className="small muted">
          {say("Begin low: rough work, an old machine, poor holding. Commonly published ranges; the maker's own numbers for a cutter come first.")}
        </p>
      </section>
      <div className="stack">
        <section className="card pad stack">
          <div className="between">
            <h2>{one.of.material.name}</h2>
            {teaches && (
              <span className="row wraps">
                <Button aria-label={say("Change {name}", { name: one.of.material.name })} onClick={() => setForm(one.of.material.key)}>
                  {say("Change")}
                </Button>
                <Leaving thing="material" what={{ id: one.id, name: one.of.material.name }} />
              </span>
            )}
          </div>
          <p>
            <Rich text={"Fluid: <b>{fluid}</b>"} values={{ fluid: one.of.material.fluid }} with={{ b: <b /> }} />
          </p>
          {one.of.material.cautions.map((c) => (
            <p key={c} className="caution small">
              {c}
            </p>
          ))}
          {one.doubts.map((d) => (
            <p key={d} className="error small">
              {d}
            </p>
          ))}
          <Lines
            rows={one.of.ranges}
            rowKey={(r) => r.cutter + r.operation}
            columns={[
              {
                key: "0",
                title: say("Cutter and work"),
                render: (_, r) => (
                  <>
                    {say(r.operation)}, {say(r.cutter)}
                    <div className="small muted">{say(r.source)}</div>
                  </>
                ),
              },
              {
                key: "1",
                title: say("Speed, m/min"),
                className: "num",
                render: (_, r) => <>{say("{v_low} to {v_high}", { v_low: r.v_low, v_high: r.v_high })}</>,
              },
              {
                key: "2",
                title: say("Chip load against diameter, mm"),
                render: (_, r) => (
                  <>
                    {r.chart.split(" ").map((point) => (
                      <div key={point} className="small nowrap">
                        {chip(point)}
                      </div>
                    ))}
                    <div className="small muted">{r.operation === "drilling" ? say("per turn") : say("per tooth")}</div>
                  </>
                ),
              },
            ]}
          />
          <p className="small muted">
            {say("Unit power {unit_power} W·min/cm³; grows by {expansion} millionths per °C.", {
              unit_power: one.of.material.unit_power,
              expansion: one.of.material.expansion,
            })}
          </p>
        </section>
      </div>
      {dialog}
    </div>
  );
}

/** A point of a chart, such as 3.2:0.008-0.015, in words. */
function chip(point: string): string {
  const [diameter = "", low = "", high = ""] = point.split(/[:-]/);
  return say("{diameter} mm: {low} to {high}", { diameter, low, high });
}
