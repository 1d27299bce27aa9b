import { sure } from "../../shared/sure";
import { Waiting } from "../../shared/Loading";
import { Fold } from "../../shared/Fold";
import { Button, Input, Select } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useContext, useEffect, useState } from "react";
import { Link, useLocation, useParams, useSearchParams } from "react-router";
import { api, body, newId, wordsFor, type LengthUnit, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { ShownUnit } from "../../instruments/length";
import { Sketch } from "../../instruments/Sketch";
import { Working } from "../../instruments/Working";
import { BenchBar, type Chosen } from "./BenchBar";
import { Levers } from "./Levers";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import "../setup/setup.css";
import { Choose, keepIt, kept, remember } from "./Choose";
import "./reckon.css";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Calculation = Schema["CalculationView"];
type Input = Schema["InputView"];
type Given = Record<string, { value: string; unit: string }>;
type Fills = Schema["Fills"];

const NOTHING: Chosen = { machine: "", material: "", cutter: "" };

/** What a change on the bench says anew: typed values give way to it. */
const SAYS: Record<keyof Chosen, string[]> = {
  machine: ["machine", "material", "crib"],
  material: ["material"],
  cutter: ["cutter", "thread", "crib", "material"],
};
function forget(key: string, c: Calculation, changed: keyof Chosen): void {
  const typed = kept<Given>(key, {});
  const says = (name: string) => SAYS[changed].includes(c.inputs.find((i) => i.name === name)?.fills.split(".")[0] ?? "");
  const left = Object.fromEntries(Object.entries(typed).filter(([name]) => !says(name)));
  if (Object.keys(left).length !== Object.keys(typed).length) keepIt(key, left);
}

/** The reckoner: find a calculation, take values from machine, material and cutter, see the result drawn and worked. */
export default function ReckonPage() {
  const { name = "" } = useParams();
  const location = useLocation();
  const me = useMe();
  const { data, error } = useQuery(queries.reckonings());
  const [chosen, setChosen] = useState<Chosen>(() => kept(`reckon:${me.id}:bench`, NOTHING));
  const fills = useQuery({ ...queries.reckonFill(chosen), enabled: Object.values(chosen).some(Boolean) });
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  const one = data.calculations.find((c) => c.id === name) ?? sure(data.calculations[0]);
  const choose = (change: Partial<Chosen>) => {
    const next = { ...chosen, ...change };
    setChosen(next);
    keepIt(`reckon:${me.id}:bench`, next);
    for (const c of data.calculations) forget(`reckon:${me.id}:${c.id}`, c, Object.keys(change)[0] as keyof Chosen);
  };
  return (
    <main className="page reckon">
      <Choose all={data.calculations} chosen={one.id} />
      <div className="stack">
        <BenchBar all={data} chosen={chosen} fills={fills.data} onChoose={choose} />
        <Reckon key={`${one.id} ${location.key} ${chosen.machine} ${chosen.material} ${chosen.cutter}`} calculation={one} fills={fills.data} />
      </div>
    </main>
  );
}

/** What stands in a field at first, in the unit that is shown. */
function startOf(i: Input, shown: LengthUnit): { value: string; unit: string } {
  return i.starts[shown] ?? { value: "", unit: "" };
}

type Stands = { value: string; unit: string; from: string };

/** What an input was given: typed by hand, else what the bench says; null where its default stands. */
function givenFor(i: Input, typed: Given, fills: Fills | undefined): Stands | null {
  const own = typed[i.name];
  if (own) return { ...own, from: "" };
  const filled = i.fills ? fills?.values[i.fills] : undefined;
  if (filled?.value) return { value: filled.value, unit: filled.unit || (i.units[0] ?? ""), from: filled.words || say("from the bench") };
  return null;
}

function Reckon({ calculation: c, fills }: { calculation: Calculation; fills: Fills | undefined }) {
  const me = useMe();
  const first = (useLocation().state as { first?: boolean } | null)?.first === true;
  const place = `reckon:${me.id}:${c.id}`;
  const [typed, setTyped] = useState<Given>(() => kept<Given>(place, {}));
  const { unit: shown } = useContext(ShownUnit);
  const own = c.inputs.map((i) => ({ input: i, given: givenFor(i, typed, fills) }));
  const given: Given = Object.fromEntries(own.flatMap((o) => (o.given ? [[o.input.name, { value: o.given.value, unit: o.given.unit }]] : [])));
  const ready = own.every((o) => o.input.optional || (o.given ? o.given.value : startOf(o.input, shown).value).trim() !== "");
  const example = useQuery({ ...queries.reckonExample(c.id), enabled: !ready && c.exercise });
  const worked = ready ? given : example.data?.given;
  const { data, error } = useQuery({
    queryKey: ["reckon", c.id, worked],
    queryFn: () => body(api.POST("/api/reckonings/{name}", { params: { path: { name: c.id } }, body: { given: worked ?? {} } })),
    enabled: worked !== undefined,
    placeholderData: (was: Schema["ReckonAnswer"] | undefined) => was,
    retry: false,
  });
  // a default stands in the unit of the work, as the server took it
  const values = own.map(({ input, given: g }) => ({
    input,
    ...(g ?? { from: "", ...((ready ? data?.defaults[input.name] : undefined) ?? startOf(input, shown)) }),
  }));
  const set = (next: Given) => {
    setTyped(next);
    keepIt(place, next);
  };
  const change = (name: string, to: Partial<Given[string]>) => {
    const { value, unit } = sure(values.find((v) => v.input.name === name));
    set({ ...typed, [name]: { value, unit, ...to } });
  };
  const clear = (name: string) => set(Object.fromEntries(Object.entries(typed).filter(([k]) => k !== name)));
  const good = worked !== undefined && error === null;
  useEffect(() => remember(me.id, c.id), [me.id, c.id]);
  return (
    <div className="stack" data-calculation={c.id}>
      <div className="between">
        <div>
          <h1>{c.name}</h1>
          <p className="muted">{c.about}</p>
        </div>
        {c.exercise && me.role !== "auditor" && (
          <Link to={`/exercises/${c.id}`} className="button nowrap">
            {say("Practise it")}
          </Link>
        )}
      </div>
      <div className="reckon-columns">
        <section className="card pad stack reckon-form">
          {values.map((v, n) => (
            <Field
              key={v.input.name}
              first={first && n === 0}
              input={v.input}
              given={{ value: v.value, unit: v.unit }}
              from={v.from}
              filled={Boolean(typed[v.input.name] && fills?.values[v.input.fills]?.value)}
              onChange={(to) => change(v.input.name, to)}
              onClear={() => clear(v.input.name)}
            />
          ))}
          {Object.keys(typed).length > 0 && <Button onClick={() => set({})}>{say("Start again")}</Button>}
        </section>
        <div className="stack">
          {!ready && (
            <p className="muted" data-example={example.data ? "" : undefined}>
              {say("Enter every value, or choose machine, material and cutter above: the result appears here as you type.")}
              {example.data && ` ${exampleWords(c, example.data)}`}
            </p>
          )}
          {worked && error && <p className="error">{wordsFor(error)}</p>}
          {data && good && (
            <div className={`stack ${ready ? "" : "reckon-dim"}`}>
              <section className="card pad stack" role="status">
                {data.results.slice(0, 12).map((r, i) => (
                  <p key={r.name} className={i === 0 ? "reckon-answer" : "reckon-result"}>
                    <span>{r.label}</span>
                    <b>
                      {r.word && <span className="word">{r.word}</span>}
                      {r.values.map((v) => (
                        <span key={v.unit}>
                          {v.value} <small>{v.unit}</small>
                        </span>
                      ))}
                    </b>
                  </p>
                ))}
                {data.results.length > 12 && <More results={data.results.slice(12)} />}
                {data.said.map((s) => (
                  <p key={s} className="caution small">
                    {s}
                  </p>
                ))}
              </section>
              {data.picture && <Sketch of={data.picture} />}
              <section className="card pad">
                <h2>{say("Working")}</h2>
                <Working steps={data.working} />
              </section>
              {data.plot && (
                <section className="card pad stack">
                  <h2>{data.plot.words}</h2>
                  <Sketch of={data.plot} high={220} />
                </section>
              )}
              <Levers of={data.levers} />
              {ready && <KeepOnCard name={c.id} given={given} />}
            </div>
          )}
        </div>
      </div>
    </div>
  );
}

/** The values of the example, as the form names them. */
function exampleWords(c: Calculation, e: Schema["Example"]): string {
  const values = c.inputs.flatMap((i) => {
    const v = e.given[i.name];
    return v?.value ? [`${i.label} ${v.value} ${v.unit}`.trim()] : [];
  });
  return say("Below, an example: {values}.", { values: values.join(", ") });
}

function More({ results }: { results: Schema["ReckonAnswer"]["results"] }) {
  return (
    <Fold title={<>{say("{count} more", { count: results.length })}</>}>
      {results.map((r) => (
        <p key={r.name} className="reckon-result">
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
    </Fold>
  );
}

type FieldProps = {
  input: Input;
  first: boolean;
  given: Given[string];
  from: string;
  filled: boolean;
  onChange: (change: Partial<Given[string]>) => void;
  onClear: () => void;
};

function Field({ input: i, first, given, from, filled, onChange, onClear }: FieldProps) {
  const lists = i.kind === "steps" || i.kind === "lengths";
  return (
    <div>
      <div className="reckon-field">
        <label className="asked">
          {i.label}
          {i.kind === "choice" ? (
            <Select
              showSearch={{ optionFilterProp: "label" }}
              autoFocus={first}
              value={given.value}
              onChange={(picked) => onChange({ value: picked })}
              options={i.choices.map((x, n) => ({ value: x, label: i.words[n] ?? x }))}
            />
          ) : (
            <Input
              autoFocus={first}
              inputMode={lists ? "text" : "decimal"}
              value={given.value}
              maxLength={1500}
              placeholder={i.optional ? say("may stay empty") : ""}
              onChange={(e) => onChange({ value: e.target.value })}
            />
          )}
        </label>
        {i.kind !== "choice" &&
          (i.units.length > 1 ? (
            <label className="asked reckon-in">
              {say("unit")}
              <Select
                showSearch={{ optionFilterProp: "label" }}
                aria-label={say("Unit of {label}", { label: i.label })}
                value={given.unit}
                onChange={(picked) => onChange({ unit: picked })}
                options={[...i.units.map((u) => ({ value: u, label: u }))]}
              />
            </label>
          ) : (
            i.units[0] !== "" && <span className="reckon-unit">{i.units[0]}</span>
          ))}
      </div>
      {from && <p className="small muted reckon-from">{from}</p>}
      {filled && (
        <Button type="text" className="plain small reckon-back" onClick={onClear}>
          {say("Use the bench's value again")}
        </Button>
      )}
    </div>
  );
}

/** Keep the calculation with its working on a job card that one works on. */
function KeepOnCard({ name, given }: { name: string; given: Given }) {
  const me = useMe();
  const client = useQueryClient();
  const [search] = useSearchParams();
  const bench = useQuery({ ...queries.bench(), enabled: me.role === "student" });
  const cards = bench.data?.cards.filter((c) => !c.done) ?? [];
  const asked = search.get("job") ?? "";
  const [picked, setPicked] = useState("");
  const [note, setNote] = useState("");
  const [saved, setSaved] = useState("");
  const { act, error, busy } = useAct();
  const card = asked || picked || cards[0]?.assignment || "";
  if (me.role === "auditor" || (!asked && cards.length === 0)) return null;
  const send = () =>
    act(async () => {
      await body(
        api.POST("/api/job-cards/{assignment}/reckonings", {
          params: { path: { assignment: card } },
          body: { id: newId(), name, given, note },
        }),
      );
      await client.invalidateQueries({ queryKey: queries.jobCard(card).queryKey });
      setSaved(card);
      setNote("");
    });
  return (
    <section className="card pad stack" aria-label={say("Use it in my job card")}>
      <h2>{say("Use it in my job card")}</h2>
      <div className="reckon-keep">
        {!asked && cards.length > 1 && (
          <label className="asked">
            {say("Job card")}
            <Select
              showSearch={{ optionFilterProp: "label" }}
              value={card}
              onChange={(picked) => setPicked(picked)}
              options={[...cards.map((c) => ({ value: c.assignment, label: c.name }))]}
            />
          </label>
        )}
        <label className="asked grow">
          {say("What it is for")}
          <Input value={note} maxLength={200} placeholder={say("first step, end mill 1/2 in")} onChange={(e) => setNote(e.target.value)} />
        </label>
        <Button type="primary" disabled={busy} onClick={() => void send()}>
          {say("Save to the job card")}
        </Button>
      </div>
      <Refused words={error} />
      {saved && (
        <p className="small">
          <Rich text={"Saved, with its working: <a>to the job card</a>."} with={{ a: <Link to={`/job/${saved}`} /> }} />
        </p>
      )}
    </section>
  );
}
