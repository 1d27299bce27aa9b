import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useState } from "react";
import { api, body, newId, Refusal, wordsFor, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Sketch } from "../../instruments/Sketch";
import { Dialog } from "../../shared/Dialog";
import { Loading } from "../../shared/Loading";
import { say } from "../../shared/say";
import { sure } from "../../shared/sure";
import { useAct } from "../../shared/useAct";
import { ChartPoints } from "./ChartPoints";
import { EntryForm } from "../../shared/EntryForm";

type Entry = Schema["MaterialEntry"];
type Range = Schema["RangeEntry"];
type Forms = Schema["MaterialForms"];

/** A material to enter or to change: its numbers, and what they come to for the cutters of this crib before they are saved. */
export function MaterialForm({ of, onClose }: { of?: string; onClose: () => void }) {
  const { data, error } = useQuery(queries.materialForms());
  return (
    <Dialog title={of ? say("Change material") : say("Add a material")} wide onClose={onClose}>
      {data ? <Form key={data.materials.find((m) => m.key === of)?.mark} forms={data} of={of} onClose={onClose} /> : <Loading error={error} />}
    </Dialog>
  );
}

function Form({ forms, of, onClose }: { forms: Forms; of: string | undefined; onClose: () => void }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [id] = useState(newId);
  const form = forms.materials.find((m) => m.key === of);
  const [it, setIt] = useState<Entry | undefined>(form?.entry);
  const [looked, setLooked] = useState(it);
  const [at, setAt] = useState(0);
  const [cautions, setCautions] = useState(form?.entry.cautions.join("\n") ?? "");
  const look = useQuery({
    queryKey: ["material-look", looked],
    queryFn: () => body(api.POST("/api/materials/look", { body: { ...sure(looked), key: of ?? "" } })),
    enabled: looked !== undefined && looked.name !== "",
    placeholderData: (was: Schema["MaterialAtWork"] | undefined) => was,
    retry: false,
  });
  const begin = (key: string) => {
    const from = forms.materials.find((m) => m.key === key)?.entry ?? empty(forms);
    const next = { ...from, name: it?.name ?? "", note: "" };
    setIt(next);
    setLooked(next);
    setCautions(next.cautions.join("\n"));
    setAt(0);
  };
  const change = (more: Partial<Entry>) => setIt(it && { ...it, ...more });
  const lookAgain = () => setLooked(it);
  const [tried, setTried] = useState<Entry>();
  const save = () =>
    act(async () => {
      if (!it) return;
      setTried(it);
      const stock = await body(
        form
          ? api.PUT("/api/materials/{material}", { params: { path: { material: form.key } }, body: { ...it, based_on: form.mark } })
          : api.POST("/api/materials", { body: { ...it, id } }),
      );
      client.setQueryData(queries.stock().queryKey, stock);
      await client.invalidateQueries();
      onClose();
    });
  const range = it?.ranges[at];
  // what was refused is said until it is another entry
  const said = error && tried === it ? error : look.error ? wordsFor(look.error) : "";
  const put = (next: Range) => change({ ranges: sure(it).ranges.map((r, i) => (i === at ? next : r)) });
  const shown = look.data?.ranges.find((r) => r.cutter === range?.cutter && r.operation === range.operation);
  return (
    <EntryForm
      onSend={save}
      yes={form ? say("Save") : say("Add material")}
      refused={said}
      busy={busy}
      ready={!!it && it.name.trim() !== ""}
      onBlur={lookAgain}
    >
      <div className="row wraps">
        <label className="asked grow">
          {say("Name")}
          <Input
            maxLength={80}
            value={it?.name ?? ""}
            onChange={(e) => setIt({ ...(it ?? empty(forms)), name: e.target.value })}
            aria-invalid={refused(look.error, "name")}
          />
        </label>
        {!form && (
          <label className="asked grow">
            {say("It cuts like")}
            <Select
              showSearch={{ optionFilterProp: "label" }}
              placeholder={say("nothing that is here")}
              options={forms.materials.map((m) => ({ value: m.key, label: m.entry.name }))}
              onChange={begin}
            />
          </label>
        )}
      </div>
      {it && (
        <>
          <div className="row wraps">
            <label className="asked grow">
              {say("Fluid")}
              <Input maxLength={200} value={it.fluid} onChange={(e) => change({ fluid: e.target.value })} />
            </label>
            <label className="asked">
              {say("Unit power, W·min/cm³")}
              <Input inputMode="decimal" maxLength={12} value={it.unit_power} onChange={(e) => change({ unit_power: e.target.value })} />
            </label>
            <label className="asked">
              {say("Thermal expansion, millionths per °C")}
              <Input inputMode="decimal" maxLength={12} value={it.expansion} onChange={(e) => change({ expansion: e.target.value })} />
            </label>
          </div>
          <label className="asked">
            {say("Cautions, one on each line")}
            <Input.TextArea
              rows={2}
              maxLength={3000}
              value={cautions}
              onChange={(e) => {
                setCautions(e.target.value);
                change({ cautions: lines(e.target.value) });
              }}
            />
          </label>
          <Ranges forms={forms} it={it} at={at} onAt={setAt} onChange={(ranges) => change({ ranges })} />
          {range && (
            <div className="material-range">
              <div className="stack">
                <div className="row">
                  <label className="asked grow">
                    {say("Speed from, m/min")}
                    <Input inputMode="decimal" maxLength={8} value={range.v_low} onChange={(e) => put({ ...range, v_low: e.target.value })} />
                  </label>
                  <label className="asked grow">
                    {say("to, m/min")}
                    <Input inputMode="decimal" maxLength={8} value={range.v_high} onChange={(e) => put({ ...range, v_high: e.target.value })} />
                  </label>
                </div>
                <ChartPoints
                  points={range.chart}
                  per={range.operation === "drilling" ? say("Chip per turn, mm") : say("Chip per tooth, mm")}
                  most={forms.most_points}
                  onChange={(chart) => put({ ...range, chart })}
                />
              </div>
              <div className="stack">
                {shown?.chart && <Sketch of={shown.chart} wide={500} high={280} />}
                {shown?.lines.map((line) => (
                  <p key={line} className="small">
                    {line}
                  </p>
                ))}
                {shown?.lines.length === 0 && <p className="small muted">{say("No cutter in the crib is used this way.")}</p>}
              </div>
            </div>
          )}
          {look.data?.doubts.map((d) => (
            <p key={d} className="caution small">
              {d}
            </p>
          ))}
        </>
      )}
    </EntryForm>
  );
}

/** Which cutter in which work the numbers below are for; what is missing can be added, what is wrong taken out. */
function Ranges(p: { forms: Forms; it: Entry; at: number; onAt: (at: number) => void; onChange: (ranges: Range[]) => void }) {
  const missing = p.forms.operations.flatMap((operation) =>
    p.forms.made_of
      .filter((cutter) => !p.it.ranges.some((r) => r.operation === operation && r.cutter === cutter))
      .map((cutter) => ({ operation, cutter })),
  );
  return (
    <div className="row wraps">
      <span className="crib-places" role="radiogroup" aria-label={say("Cutter and work")}>
        {p.it.ranges.map((r, i) => (
          <button
            key={r.operation + r.cutter}
            type="button"
            role="radio"
            aria-checked={i === p.at}
            className={i === p.at ? "on" : ""}
            onClick={() => p.onAt(i)}
          >
            {say(r.operation)}, {say(r.cutter)}
          </button>
        ))}
      </span>
      {missing.length > 0 && (
        <Select
          aria-label={say("Add another cutter or work")}
          placeholder={say("Add another")}
          value={null}
          options={missing.map((m) => ({ value: `${m.operation} ${m.cutter}`, label: `${say(m.operation)}, ${say(m.cutter)}` }))}
          onChange={(_, chosen) => {
            const m = missing.find((x) => `${x.operation} ${x.cutter}` === (chosen as { value: string }).value);
            if (!m) return;
            p.onChange([...p.it.ranges, { ...m, v_low: "", v_high: "", chart: [{ diameter: "", low: "", high: "" }] }]);
            p.onAt(p.it.ranges.length);
          }}
        />
      )}
      {p.it.ranges.length > 0 && (
        <Button
          onClick={() => {
            p.onChange(p.it.ranges.filter((_, i) => i !== p.at));
            p.onAt(0);
          }}
        >
          {say("Remove this range")}
        </Button>
      )}
    </div>
  );
}

function empty(forms: Forms): Entry {
  const chart = [{ diameter: "", low: "", high: "" }];
  const range = { operation: sure(forms.operations[0]), cutter: sure(forms.made_of[0]), v_low: "", v_high: "", chart };
  return { name: "", unit_power: "", expansion: "", fluid: "", cautions: [], note: "", ranges: [range] };
}

function lines(text: string): string[] {
  return text
    .split("\n")
    .map((x) => x.trim())
    .filter(Boolean);
}

function refused(error: unknown, field: string): boolean {
  return error instanceof Refusal && error.fields.some((f) => f.field === field);
}
