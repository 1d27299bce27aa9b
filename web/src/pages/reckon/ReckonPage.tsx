import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, body, wordsFor, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Working } from "../../instruments/Working";
import { useMe } from "../../shell/me";
import "../setup/setup.css";
import "./reckon.css";

type Calculation = Schema["CalculationView"];
type Given = Record<string, { value: string; unit: string }>;

/** The reckoner: find a calculation, give the values, see the result with its working and what moves it. */
export default function ReckonPage() {
  const { name = "" } = useParams();
  const { data, error } = useQuery(queries.reckonings());
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <p className="muted">One moment…</p>}</main>;
  const chosen = data.calculations.find((c) => c.id === name) ?? data.calculations[0]!;
  return (
    <main className="page reckon">
      <Choose all={data.calculations} chosen={chosen.id} />
      <Reckon key={chosen.id} calculation={chosen} machines={data.machines} />
    </main>
  );
}

/** Type a few letters and press Enter; groups stand in the order of work. */
function Choose({ all, chosen }: { all: readonly Calculation[]; chosen: string }) {
  const navigate = useNavigate();
  const [text, setText] = useState("");
  const wanted = text.trim().toLowerCase();
  const hits = all.filter((c) => `${c.name} ${c.group}`.toLowerCase().includes(wanted));
  const groups = [...new Set(hits.map((c) => c.group))];
  return (
    <nav className="card pad stack" aria-label="Calculations">
      <input
        className="field"
        autoFocus
        placeholder="Which calculation?"
        aria-label="Which calculation?"
        value={text}
        maxLength={60}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== "Enter" || !hits[0]) return;
          navigate(`/reckon/${hits[0].id}`);
          setText("");
          // the first value is what one types next
          setTimeout(() => document.querySelector<HTMLInputElement>(".reckon-form input")?.focus(), 50);
        }}
      />
      {groups.map((g) => (
        <div key={g}>
          <h3>{g}</h3>
          {hits
            .filter((c) => c.group === g)
            .map((c) => (
              <Link key={c.id} to={`/reckon/${c.id}`} className={c.id === chosen ? "on" : ""} aria-current={c.id === chosen ? "page" : undefined}>
                {c.name}
              </Link>
            ))}
        </div>
      ))}
      {hits.length === 0 && <p className="small muted">No calculation is called that.</p>}
    </nav>
  );
}

function remembered(person: string, c: Calculation): Given {
  const start = Object.fromEntries(c.inputs.map((i) => [i.name, { value: i.default, unit: i.units[0] ?? "" }]));
  try {
    const kept = JSON.parse(localStorage.getItem(`reckon:${person}:${c.id}`) ?? "{}") as Given;
    return { ...start, ...Object.fromEntries(Object.entries(kept).filter(([k]) => k in start)) };
  } catch {
    return start;
  }
}

function Reckon({ calculation: c, machines }: { calculation: Calculation; machines: readonly Schema["MachineSteps"][] }) {
  const me = useMe();
  const [given, setGiven] = useState<Given>(() => remembered(me.id, c));
  const ready = c.inputs.every((i) => i.optional || (given[i.name]?.value ?? "").trim() !== "");
  const { data, error } = useQuery({
    queryKey: ["reckon", c.id, given],
    queryFn: () => body(api.POST("/api/reckonings/{name}", { params: { path: { name: c.id } }, body: { given } })),
    enabled: ready,
    placeholderData: (was: Schema["ReckonAnswer"] | undefined) => was,
    retry: false,
  });
  const set = (name: string, change: Partial<Given[string]>) => {
    const next = { ...given, [name]: { value: "", unit: "", ...given[name], ...change } };
    setGiven(next);
    try {
      localStorage.setItem(`reckon:${me.id}:${c.id}`, JSON.stringify(next));
    } catch {
      // a browser that keeps nothing only forgets the values
    }
  };
  const stale = error !== null || !ready;
  return (
    <div className="stack">
      <div>
        <h1>{c.name}</h1>
        <p className="muted">{c.about}</p>
      </div>
      <div className="setup-columns">
        <section className="card pad stack reckon-form">
          {c.inputs.map((i) => (
            <Field key={i.name} input={i} given={given[i.name]!} machines={machines} onChange={(change) => set(i.name, change)} />
          ))}
        </section>
        <div className="stack">
          {!ready && <p className="muted">Give every value: the result stands here as you type.</p>}
          {ready && error && <p className="error">{wordsFor(error)}</p>}
          {data && !stale && (
            <>
              <section className="card pad stack" role="status">
                {data.results.map((r, i) => (
                  <p key={r.name} className={i === 0 ? "reckon-answer" : "reckon-result"}>
                    <span>{r.label}</span>
                    <b>
                      {r.values.map((v) => (
                        <span key={v.unit}>
                          {v.value} <small>{v.unit}</small>
                        </span>
                      ))}
                    </b>
                  </p>
                ))}
                {data.said.map((s) => (
                  <p key={s} className="caution small">
                    {s}
                  </p>
                ))}
              </section>
              <Levers of={data.levers} />
              <section className="card pad">
                <h2>Working, in millimetres</h2>
                <Working steps={data.working} />
              </section>
            </>
          )}
        </div>
      </div>
    </div>
  );
}

type FieldProps = {
  input: Schema["InputView"];
  given: Given[string];
  machines: readonly Schema["MachineSteps"][];
  onChange: (change: Partial<Given[string]>) => void;
};

function Field({ input: i, given, machines, onChange }: FieldProps) {
  if (i.kind === "choice") {
    return (
      <label className="asked">
        {i.label}
        <select className="field" value={given.value} onChange={(e) => onChange({ value: e.target.value })}>
          {i.choices.map((x) => (
            <option key={x}>{x}</option>
          ))}
        </select>
      </label>
    );
  }
  return (
    <div className="reckon-field">
      <label className="asked">
        {i.label}
        <input className="field" inputMode={i.kind === "steps" ? "text" : "decimal"} value={given.value} maxLength={300} onChange={(e) => onChange({ value: e.target.value })} />
      </label>
      {i.kind === "steps" ? (
        <label className="asked">
          of
          <select className="field" value={machines.find((m) => m.steps === given.value)?.id ?? ""} onChange={(e) => onChange({ value: machines.find((m) => m.id === e.target.value)?.steps ?? "" })}>
            <option value="">another</option>
            {machines.map((m) => (
              <option key={m.id} value={m.id}>
                {m.name}
              </option>
            ))}
          </select>
        </label>
      ) : (
        i.units.length > 1 && (
          <label className="asked">
            in
            <select className="field" value={given.unit} onChange={(e) => onChange({ unit: e.target.value })}>
              {i.units.map((u) => (
                <option key={u}>{u}</option>
              ))}
            </select>
          </label>
        )
      )}
      {i.kind === "steps" ? null : i.units.length === 1 && i.units[0] !== "" && <span className="reckon-unit">{i.units[0]}</span>}
    </div>
  );
}

/** How far the answer moves when one value grows by a tenth: longer to the right is more, to the left less. */
function Levers({ of }: { of: readonly Schema["LeverView"][] }) {
  if (of.length < 2) return null;
  const most = Math.max(...of.map((l) => Math.abs(l.share)), 0.01);
  return (
    <section className="card pad stack">
      <h2>What moves it</h2>
      <svg viewBox={`0 0 600 ${of.length * 30 + 6}`} className="levers" role="img" aria-label={of.map((l) => `${l.label}: ${percent(l.share)}`).join("; ")}>
        <path d={`M380 0V${of.length * 30 + 6}`} className="lever-axis" />
        {of.map((l, i) => {
          const wide = (Math.abs(l.share) / most) * 130;
          return (
            <g key={l.name} transform={`translate(0 ${i * 30 + 4})`}>
              <text x="236" y="17" textAnchor="end">
                {l.label}
              </text>
              <rect x={l.share < 0 ? 380 - wide : 380} y="3" width={Math.max(wide, 1)} height="20" className={l.share < 0 ? "lever less" : "lever"} />
              <text x="596" y="17" textAnchor="end" className="lever-share">
                {percent(l.share)}
              </text>
            </g>
          );
        })}
      </svg>
      <p className="small muted">Each value a tenth more (a count one more), the others as they are.</p>
    </section>
  );
}

const percent = (share: number) => `${share >= 0 ? "+" : "−"}${(Math.abs(share) * 100).toFixed(1)} %`;
