import { Waiting } from "../../shared/Loading";
import { Button, Input } from "antd";
import { useState } from "react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, body, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { ToleranceBar } from "../../instruments/ToleranceBar";
import { useMe } from "../../shared/me";
import { Changes } from "./Changes";
import { LapseRules } from "./LapseRules";
import { SetupRules } from "./SetupRules";
import { say } from "../../shared/say";
import { Refused } from "../../shared/Refused";
import { weekdayAndTime } from "../../shared/time";
import { setZone } from "../../shared/zone";
import { ZoneSelect } from "../../shared/ZoneSelect";

type School = Schema["School"];

const SCHOOLS: { id: School; name: string; words: string }[] = [
  {
    id: "guard_band",
    name: say("Guard band"),
    words: say(
      "In only when the reading stays inside each limit by the instrument's uncertainty. Near a limit it is too close to call: measure better.",
    ),
  },
  {
    id: "bare_limits",
    name: say("Bare limits"),
    words: say("In when the reading is between the limits; a reading on the limit is in."),
  },
];

const PROJECTIONS = [
  { id: "third" as const, name: say("third angle"), words: say("The top view stands above the front view, the right view to its right.") },
  { id: "first" as const, name: say("first angle"), words: say("The top view stands below the front view, the right view to its left.") },
];

const SECTIONS = [
  { id: "judging", name: say("Judging") },
  { id: "beside", name: say("Beside a learner") },
  { id: "name", name: say("Name") },
  { id: "unit", name: say("Unit") },
  { id: "drawings", name: say("Drawings") },
  { id: "clock", name: say("Clock and spelling") },
  { id: "setting-up", name: say("Setting up") },
  { id: "lapses", name: say("Sign-offs") },
  { id: "elsewhere", name: say("Set elsewhere") },
  { id: "changes", name: say("What was changed") },
];

/** Settings that have a page of their own, because they belong to a thing or a person. */
const ELSEWHERE = [
  {
    to: "/shop/devices",
    name: say("Devices"),
    words: say("keys of wall displays and of interlocks. Without its key a device shows nothing and enables nothing."),
  },
  { to: "/shop/people", name: say("People"), words: say("roles, groups and terms. Who has left cannot sign in.") },
  { to: "/shop/teaching", name: say("Teaching"), words: say("what an assistant may sign, the skills themselves, and the question banks.") },
  { to: "/shop/gauges", name: say("Gauges"), words: say("how sure each one is, and when its check is due. An overdue gauge decides nothing.") },
];

/** How this shop works where good practice differs: judging, standing beside, setting up. */
export default function ShopPage() {
  const me = useMe();
  const client = useQueryClient();
  const { data, error } = useQuery(queries.shop());
  const changing = useMutation({
    mutationFn: (change: Schema["ShopCommand"]) => body(api.PUT("/api/shop", { body: change })),
    onSuccess: async (fresh) => {
      setZone(fresh.zone);
      client.setQueryData(queries.shop().queryKey, fresh);
      await client.invalidateQueries();
    },
  });
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  const now = {
    school: data.school,
    confirmed_minutes: null,
    setup_rules: null,
    projection: null,
    name: null,
    unit: null,
    zone: null,
    spelling: null,
  };
  return (
    <main className="page stack">
      <div className="between">
        <h1>{say("How we work")}</h1>
        <Link className="button" to="/shop/ready">
          {say("Before the first class")}
        </Link>
      </div>
      <nav className="shelf sections" aria-label={say("Sections of this page")}>
        {SECTIONS.map((x) => (
          <a key={x.id} href={`#${x.id}`}>
            {x.name}
          </a>
        ))}
      </nav>
      <section className="card pad stack" id="judging">
        <h2>{say("How readings are judged here")}</h2>
        <div className="row stretch">
          {SCHOOLS.map((s) => (
            <Button
              key={s.id}
              type="text"
              className={`plain card pad grow school ${data.school === s.id ? "school-on" : ""}`}
              aria-pressed={data.school === s.id}
              disabled={me.role !== "instructor" || changing.isPending}
              onClick={() => changing.mutate({ ...now, school: s.id })}
            >
              <h3>
                {s.name} {data.school === s.id && <span className="needs">{say("used here")}</span>}
              </h3>
              <p className="small">{s.words}</p>
              <Example school={s.id} />
            </Button>
          ))}
        </div>
        <p className="small muted">
          {say("Readings that are saved keep the verdict they got; open job cards are judged by the rule that is set now.")}
        </p>
        <Refused by={changing.error} />
      </section>
      <section className="card pad stack" id="beside">
        <h2>{say("Beside a learner")}</h2>
        <div className="row">
          <span className="grow">
            {say("An assessor's confirmation that they stand beside a student holds for this operation and so many minutes:")}
          </span>
          {data.minutes_offered.map((m) => (
            <Button
              key={m}
              type={data.confirmed_minutes === m ? "primary" : "default"}
              aria-pressed={data.confirmed_minutes === m}
              disabled={me.role !== "instructor" || changing.isPending}
              onClick={() => changing.mutate({ ...now, confirmed_minutes: m })}
            >
              {say("{m} min", { m })}
            </Button>
          ))}
        </div>
      </section>
      {me.role === "instructor" && <ShopName key={data.name} name={data.name} onSave={(name) => changing.mutate({ ...now, name })} />}
      <section className="card pad stack" id="unit">
        <h2>{say("Default unit")}</h2>
        <div className="row">
          {(["in", "mm"] as const).map((unit) => (
            <Button
              key={unit}
              type={data.unit === unit ? "primary" : "default"}
              aria-pressed={data.unit === unit}
              disabled={me.role !== "instructor" || changing.isPending}
              onClick={() => changing.mutate({ ...now, unit })}
            >
              {unit === "in" ? say("inches") : say("millimetres")}
            </Button>
          ))}
          <span className="grow">
            {say(
              "Everybody can switch at the top of the page. Parts, dials and gauges keep the unit they are made in; nothing that was entered is converted.",
            )}
          </span>
        </div>
      </section>
      <section className="card pad stack" id="drawings">
        <h2>{say("How drawings are laid out")}</h2>
        <div className="row">
          {PROJECTIONS.map((p) => (
            <Button
              key={p.id}
              type={data.projection === p.id ? "primary" : "default"}
              aria-pressed={data.projection === p.id}
              disabled={me.role !== "instructor" || changing.isPending}
              onClick={() => changing.mutate({ ...now, projection: p.id })}
            >
              {p.name}
            </Button>
          ))}
          <span className="grow">{PROJECTIONS.find((p) => p.id === data.projection)?.words}</span>
        </div>
      </section>
      <section className="card pad stack" id="clock">
        <h2>{say("Clock and spelling")}</h2>
        <div className="row">
          <ZoneSelect
            label={say("The shop's time zone")}
            value={data.zone}
            disabled={me.role !== "instructor" || changing.isPending}
            onChange={(zone) => changing.mutate({ ...now, zone })}
          />
          <span className="grow">
            {say(
              "It is {time} in the shop. Its days begin and end at midnight there: what is due, terms, lapses and the dates on papers follow it, and pages show its time whatever a tablet is set to.",
              { time: weekdayAndTime(data.zone) },
            )}
          </span>
        </div>
        <div className="row">
          {data.spellings.map((s) => (
            <Button
              key={s.key}
              type={data.spelling === s.key ? "primary" : "default"}
              aria-pressed={data.spelling === s.key}
              disabled={me.role !== "instructor" || changing.isPending}
              onClick={() => changing.mutate({ ...now, spelling: s.key })}
            >
              <span translate="no">{s.words}</span>
            </Button>
          ))}
        </div>
        <p className="small muted">
          {say(
            "How English is written on pages and papers. What somebody typed stays as it was typed; a page that is open changes when it is loaded again.",
          )}
        </p>
      </section>
      <SetupRules
        rules={data.setup_rules}
        mayChange={me.role === "instructor"}
        busy={changing.isPending}
        onChange={(setup_rules) => changing.mutateAsync({ ...now, setup_rules })}
      />
      <LapseRules mayChange={me.role === "instructor"} />
      <section className="card pad stack" id="elsewhere">
        <h2>{say("Set elsewhere")}</h2>
        <ul className="points">
          {ELSEWHERE.map((x) => (
            <li key={x.to}>
              <Link to={x.to}>{x.name}</Link>: {x.words}
            </li>
          ))}
        </ul>
      </section>
      <Changes mayChange={me.role === "instructor"} />
    </main>
  );
}

const both = (text: string) => ({ given: "in" as const, inch: text, mm: text });
const LIMITS = { lower: both("LL"), upper: both("UL"), aim: null, metal: "outside" as const };

/** What the shop is called, at the top of every page and on every paper. */
function ShopName({ name, onSave }: { name: string; onSave: (name: string) => void }) {
  const [typed, setTyped] = useState(name);
  return (
    <section className="card pad stack" id="name">
      <h2>{say("What the shop is called")}</h2>
      <form
        className="row"
        onSubmit={(event) => {
          event.preventDefault();
          onSave(typed.trim());
        }}
      >
        <label className="asked grow">
          {say("At the top of every page, and on every paper")}
          <Input value={typed} maxLength={80} onChange={(e) => setTyped(e.target.value)} />
        </label>
        <Button htmlType="submit" disabled={typed.trim().length < 2 || typed.trim() === name}>
          {say("Save")}
        </Button>
      </form>
    </section>
  );
}

/** The same reading, close under the upper limit, judged by each school. */
function Example({ school }: { school: School }) {
  const verdict = school === "guard_band" ? "too_close" : "in";
  const bar = { at: 0.72, sure: 0.06, aim: null, off: "" };
  return <ToleranceBar characteristic={LIMITS} guard={school === "guard_band" ? 0.06 : 0} pointers={[{ bar, verdict }]} />;
}
