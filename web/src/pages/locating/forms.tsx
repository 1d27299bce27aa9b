import { Button, Checkbox, Input, Select } from "antd";
import { AXES } from "./MovesPage";
import { say } from "../../shared/say";
import { axisOf, fits, handleView, type Draft, type Page, type Wanted } from "./drafts";

type FormProps = { page: Page; draft: Draft; set: (change: Partial<Draft>) => void };

/** Which handle, and whether its dial or the readout is read. */
function How({ page: p, draft: d, set, axis, name = say("Handle") }: FormProps & { axis: Wanted; name?: string }) {
  const own = p.handles.filter((h) => fits(h, axis));
  const now = handleView(p, d, axis);
  return (
    <>
      <div className="setup-form">
        <label className="asked">
          {name}
          <Select
            showSearch={{ optionFilterProp: "label" }}
            value={now.index}
            onChange={(picked) => set({ handle: picked })}
            options={[...own.map((h) => ({ value: h.index, label: `${AXES[h.axis]}, ${h.place}` }))]}
          />
        </label>
        <label className="asked">
          {say("Read by")}
          <Select
            value={d.scale}
            onChange={(picked) => set({ scale: picked })}
            options={[{ value: "dial", label: "dial" }, ...(now.readout ? [{ value: "readout", label: "readout" }] : [])]}
          />
        </label>
      </div>
      {d.scale === "dial" && (
        <p className="small muted">{say("Clockwise {clockwise}; {lost_words}.", { clockwise: now.clockwise, lost_words: now.lost_words })}</p>
      )}
    </>
  );
}

function FinderChoice({ page: p, draft: d, set }: FormProps) {
  const chosen = p.finders.find((f) => f.id === d.finder);
  return (
    <>
      <label className="asked">
        {say("Finder")}
        <Select
          showSearch={{ optionFilterProp: "label" }}
          value={d.finder}
          onChange={(picked) => set({ finder: picked })}
          options={[...p.finders.map((f) => ({ value: f.id, label: f.name }))]}
        />
      </label>
      {chosen && (
        <p className="small muted">
          {chosen.speed}: {chosen.tells}.
        </p>
      )}
    </>
  );
}

function Field({ name, value, onChange }: { name: string; value: string; onChange: (v: string) => void }) {
  return (
    <label className="asked">
      {name}
      <Input inputMode="decimal" value={value} maxLength={20} onChange={(e) => onChange(e.target.value)} />
    </label>
  );
}

function unitOf(p: Page, d: Draft, axis: Wanted): string {
  return d.scale === "readout" ? p.scale_unit : handleView(p, d, axis).unit;
}

export function EdgeForm(props: FormProps) {
  const { page: p, draft: d, set } = props;
  const axis = axisOf(d.face);
  const face = p.faces.find((f) => f.face === d.face);
  const u = unitOf(p, d, axis);
  return (
    <>
      <h2 className="find-title">{face?.words}</h2>
      <p className="small">
        {say("Approach it like this:")} {face?.come}
        {say(". Always in this direction: from the other side the reading is off by the backlash.")}
      </p>
      <How {...props} axis={axis} />
      <FinderChoice {...props} />
      {d.finder.startsWith("pin") && (
        <Field
          name={say("The paper is thick, {unit}", { unit: p.unit })}
          value={d.text.paper ?? ""}
          onChange={(v) => set({ text: { ...d.text, paper: v } })}
        />
      )}
      <div className="setup-form">
        {d.touches.map((t, i) => (
          <Field
            key={i}
            name={say("Touch {i}: the {scale} shows, {u}", { i: i + 1, scale: d.scale, u })}
            value={t}
            onChange={(v) => set({ touches: d.touches.map((x, n) => (n === i ? v : x)) })}
          />
        ))}
      </div>
      {d.touches.length < 4 && <Button onClick={() => set({ touches: [...d.touches, ""] })}>{say("One more touch")}</Button>}
    </>
  );
}

export function MiddleForm(props: FormProps) {
  const { page: p, draft: d, set } = props;
  const u = unitOf(p, d, null);
  const text = (name: string, words: string) => (
    <Field name={words} value={d.text[name] ?? ""} onChange={(v) => set({ text: { ...d.text, [name]: v } })} />
  );
  const across = { ...p, handles: p.handles.filter((h) => h.axis === "x" || h.axis === "y") };
  return (
    <>
      <h2>
        {p.outline.bar
          ? say("Between both flanks of the bar")
          : d.inside
            ? say("Between both walls of a slot")
            : say("Between both sides of the block")}
      </h2>
      <How page={across} draft={d} set={set} axis={null} />
      <FinderChoice {...props} />
      {!p.outline.bar && (
        <Checkbox className="setup-tight" checked={d.inside} onChange={(e) => set({ inside: e.target.checked })}>
          <span>{say("Inside: the walls of a slot")}</span>
        </Checkbox>
      )}
      <div className="setup-form">
        {text("low", say("Contact on the left or front, {u}", { u }))}
        {text("high", say("Contact on the right or rear, {u}", { u }))}
        {d.scale === "dial" && text("turns", say("Whole turns between both"))}
      </div>
      <div className="setup-form">
        {text("width", say("Measured width, {unit}", { unit: p.unit }))}
        {text("unsure", say("sure to, {unit}", { unit: p.unit }))}
        {p.outline.bar && text("above", say("Finder's body above the widest line, {unit}", { unit: p.unit }))}
      </div>
      <p className="small muted">
        {say("Contact to contact less the tip must be the measured width{value}: that finds a bad touch.", {
          value: d.scale === "dial" ? say(", with the backlash allowed for") : "",
        })}
      </p>
    </>
  );
}

export function FlatForm(props: FormProps) {
  const { page: p, draft: d, set } = props;
  const text = (name: string, words: string) => (
    <Field name={words} value={d.text[name] ?? ""} onChange={(v) => set({ text: { ...d.text, [name]: v } })} />
  );
  return (
    <>
      <h2>{say("By a spot on the bar")}</h2>
      <p className="small">{say("Sink an end mill until it leaves a full circle. Stop the spindle, measure from the circle to both flanks.")}</p>
      <How {...props} axis="y" />
      <div className="setup-form">
        {text("here", say("The {scale} shows, {unitOf}", { scale: d.scale, unitOf: unitOf(p, d, "y") }))}
        {text("mill", say("Mill's diameter, {unit}", { unit: p.unit }))}
        {text("depth", say("Sunk by, {unit}", { unit: p.unit }))}
        {text("near", say("Circle to the front flank, {unit}", { unit: p.unit }))}
        {text("far", say("Circle to the rear flank, {unit}", { unit: p.unit }))}
      </div>
    </>
  );
}

export function RoundForm(props: FormProps) {
  const { page: p, draft: d, set } = props;
  const text = (name: string, words: string) => (
    <Field name={words} value={d.text[name] ?? ""} onChange={(v) => set({ text: { ...d.text, [name]: v } })} />
  );
  return (
    <>
      <h2>{d.boss ? say("Around a boss") : say("In a bore")}</h2>
      <div className="row">
        {[false, true].map((b) => (
          <Button
            key={String(b)}
            type={d.boss === b ? "primary" : "default"}
            className="grow"
            aria-pressed={d.boss === b}
            onClick={() => set({ boss: b })}
          >
            {b ? say("Boss") : say("Bore")}
          </Button>
        ))}
      </div>
      <label className="asked">
        {say("Which")}
        <Select
          showSearch={{ optionFilterProp: "label" }}
          value={d.feature}
          onChange={(picked) => set({ feature: picked })}
          options={[...p.outline.features.map((f) => ({ value: f.name, label: f.name })), { value: "", label: say("the middle of the part") }]}
        />
      </label>
      <How {...props} axis="x" name={say("X handle")} />
      <div className="compass">
        {text("north", say("N, rear"))}
        {text("west", say("W, left"))}
        <svg viewBox="-60 -60 120 120" width="124" height="124" role="img" aria-label={say("The four places of the indicator")}>
          <circle r="46" className={d.boss ? "find-tip" : "find-hole"} />
          <path d="M-56 0H56M0 -56V56" className="find-half" />
        </svg>
        {text("east", say("E, right"))}
        {text("south", say("S, front"))}
      </div>
      <div className="setup-form">
        {text("here_x", say("X {scale} shows, {unitOf}", { scale: d.scale, unitOf: unitOf(p, d, "x") }))}
        {text("here_y", say("Y {scale} shows, {unitOf}", { scale: d.scale, unitOf: unitOf(p, d, "y") }))}
        {text("division", say("One division, {unit}", { unit: p.unit }))}
      </div>
      <p className="small muted">{say("Higher is: the needle is pushed in more. A lever indicator; a back plunger does not fit in.")}</p>
    </>
  );
}

export function DepthForm(props: FormProps) {
  const { page: p, draft: d, set } = props;
  const text = (name: string, words: string) => (
    <Field name={words} value={d.text[name] ?? ""} onChange={(v) => set({ text: { ...d.text, [name]: v } })} />
  );
  const ways = { paper: "paper", gauge: "gauge", chips: say("first chips") } as const;
  return (
    <>
      <h2>{say("The part's top")}</h2>
      <How {...props} axis="z" />
      <div className="row">
        {(Object.keys(ways) as Draft["how"][]).map((h) => (
          <Button
            key={h}
            type={d.how === h ? "primary" : "default"}
            className="grow"
            aria-pressed={d.how === h}
            onClick={() => set({ how: h, checks: p.checks[h === "chips" ? "chips" : "depth"] ?? [], ticked: [] })}
          >
            {ways[h]}
          </Button>
        ))}
      </div>
      <div className="setup-form">
        {d.how !== "chips" && text("thickness", say("The {how} is thick, measured, {unit}", { how: d.how, unit: p.unit }))}
        {text("reading", say("At the touch the {scale} shows, {unitOf}", { scale: d.scale, unitOf: unitOf(p, d, "z") }))}
      </div>
      <p className="small muted">
        {d.how === "chips"
          ? say("A scratch where the depth does not matter.")
          : say("Paper that just drags, spindle stopped. Keep your fingers off; pull the strip's end.")}
      </p>
    </>
  );
}
