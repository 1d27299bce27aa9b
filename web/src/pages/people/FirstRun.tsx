import { Button, Input, Radio } from "antd";
import { useState, type ReactNode } from "react";
import { api, Away, body, wordsFor, type Me, type Schema } from "../../api/client";
import { say } from "../../shared/say";
import { Refused } from "../../shared/Refused";
import { ownZone } from "../../shared/zone";
import { ZoneSelect } from "../../shared/ZoneSelect";

type Command = Schema["FirstRunCommand"];

const UNITS: { value: Command["unit"]; label: string }[] = [
  { value: "in", label: say("inch") },
  { value: "mm", label: say("millimetre") },
];
const SCHOOLS: { value: Command["school"]; label: string }[] = [
  { value: "guard_band", label: say("In only when the gauge's uncertainty keeps it inside each limit (usual)") },
  { value: "bare_limits", label: say("In when it lies between the limits") },
];
const PROJECTIONS: { value: Command["projection"]; label: string }[] = [
  { value: "third", label: say("third angle: the top view above") },
  { value: "first", label: say("first angle: the top view below") },
];

/** An empty installation: its code, the shop, and the instructor who sets it up. All of it can be changed later. */
export function FirstRun({ onSignedIn, spellings }: { onSignedIn: (me: Me) => void; spellings: Schema["SpellingOffered"][] }) {
  const [it, setIt] = useState<Command>({
    code: "",
    shop: "",
    unit: "in",
    school: "guard_band",
    projection: "third",
    zone: ownZone(),
    spelling: "",
    group: "",
    name: "",
    login: "",
    password: "",
    pin: "",
  });
  const [error, setError] = useState("");
  const [busy, setBusy] = useState(false);
  const change = (of: Partial<Command>) => setIt({ ...it, ...of });
  const ready = it.code && it.shop.trim() && it.group.trim() && it.name.trim() && it.password.length >= 8 && it.pin.length >= 4;
  const submit = async () => {
    setBusy(true);
    setError("");
    try {
      const done = await body(api.POST("/api/first-run", { body: it }));
      onSignedIn(await body(api.POST("/api/sign-in", { body: { login: done.login, password: it.password } })));
    } catch (failed) {
      setError(failed instanceof Away ? say("{message} Try again in a moment.", { message: failed.message }) : wordsFor(failed));
      setBusy(false);
    }
  };
  return (
    <main className="page stack first-run">
      <h1>{say("A new shop")}</h1>
      <p className="muted">{say("Two minutes. All of it can be changed later.")}</p>
      <form
        className="stack"
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        <section className="card pad stack">
          <label className="asked">
            {say("The code that the server printed when it started")}
            <Input value={it.code} autoFocus autoComplete="off" maxLength={40} onChange={(e) => change({ code: e.target.value })} />
          </label>
        </section>
        <section className="card pad stack">
          <h2>{say("The shop")}</h2>
          <div className="row wraps">
            <label className="asked grow">
              {say("Its name")}
              <Input value={it.shop} maxLength={80} onChange={(e) => change({ shop: e.target.value })} />
            </label>
            <label className="asked grow">
              {say("The first group, such as Tuesday evening")}
              <Input value={it.group} maxLength={60} onChange={(e) => change({ group: e.target.value })} />
            </label>
          </div>
          <Choice name={say("Most of the work is in")} value={it.unit} options={UNITS} onChange={(unit) => change({ unit })} />
          <Choice name={say("A reading is")} value={it.school} options={SCHOOLS} onChange={(school) => change({ school })} />
          <Choice
            name={say("Drawings are laid out in")}
            value={it.projection}
            options={PROJECTIONS}
            onChange={(projection) => change({ projection })}
          />
          <label className="asked">
            {say("The shop's clock: days begin and end by it, on pages and on paper")}
            <ZoneSelect
              label={say("The shop's clock: days begin and end by it, on pages and on paper")}
              value={it.zone}
              onChange={(zone) => change({ zone })}
            />
          </label>
          <Choice
            name={say("English is written")}
            value={it.spelling}
            options={spellings.map((s) => ({ value: s.key, label: <span translate="no">{s.words}</span> }))}
            onChange={(spelling) => change({ spelling })}
          />
        </section>
        <section className="card pad stack">
          <h2>{say("You, the first instructor")}</h2>
          <div className="row wraps">
            <label className="asked grow">
              {say("Name, as it stands on records")}
              <Input value={it.name} maxLength={80} autoComplete="name" onChange={(e) => change({ name: e.target.value })} />
            </label>
            <label className="asked grow">
              {say("Signs in as; empty: made from the name")}
              <Input value={it.login} maxLength={60} autoComplete="username" onChange={(e) => change({ login: e.target.value })} />
            </label>
          </div>
          <div className="row wraps">
            <label className="asked grow">
              {say("Password, at least 8 characters")}
              <Input
                type="password"
                value={it.password}
                maxLength={200}
                autoComplete="new-password"
                onChange={(e) => change({ password: e.target.value })}
              />
            </label>
            <label className="asked grow">
              {say("A PIN of 4 to 8 digits: you confirm starts and signatures with it")}
              <Input
                type="password"
                inputMode="numeric"
                value={it.pin}
                maxLength={8}
                autoComplete="off"
                onChange={(e) => change({ pin: e.target.value.replace(/\D/g, "") })}
              />
            </label>
          </div>
        </section>
        <Refused words={error} />
        <Button type="primary" size="large" htmlType="submit" loading={busy} disabled={!ready}>
          {say("Set up the shop")}
        </Button>
      </form>
      <p className="small muted">
        {say("Skills, questions, materials, drills, threads and practice parts come with it. Machines, gauges and people are entered next.")}
      </p>
    </main>
  );
}

function Choice<T extends string>(p: { name: string; value: T; options: { value: T; label: ReactNode }[]; onChange: (value: T) => void }) {
  return (
    <fieldset className="first-choice">
      <legend className="asked">{p.name}</legend>
      <Radio.Group value={p.value} options={p.options} onChange={(e) => p.onChange(e.target.value as T)} />
    </fieldset>
  );
}
