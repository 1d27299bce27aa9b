import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Input, Select, Switch } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { textIn } from "../../instruments/length";
import { useMe } from "../../shared/me";
import { PickFile } from "../../shared/PickFile";
import { say, sayMany } from "../../shared/say";
import { Refused } from "../../shared/Refused";
import "./projects.css";

type Card = Schema["ProjectCard"];
type Wish = {
  find: string;
  skill: string;
  feature: string;
  material: string;
  machine: string;
  within: string;
  unit: string;
  retired: boolean;
  order: string;
};

const ANY: Wish = { find: "", skill: "", feature: "", material: "", machine: "", within: "", unit: "", retired: false, order: "name" };

/** The library of practice parts: found by words, skill, feature, material and unit. */
export default function ProjectsPage() {
  const me = useMe();
  const { data, error } = useQuery(queries.projects());
  const [wish, setWish] = useState(ANY);
  const taking = useTaking();
  const all = data?.projects ?? [];
  const shown = all.filter((p) => fits(p, wish)).toSorted(ORDERS[wish.order] ?? byName);
  return (
    <main className="page stack">
      <div className="between">
        <h1>{say("Parts")}</h1>
        {me.role === "instructor" && (
          <div className="row no-print">
            <Link className="button primary" to="/parts/new">
              {say("New part")}
            </Link>
            <a className="button" href="/api/projects/library.zip" download>
              {say("Download the library")}
            </a>
            <PickFile label={say("Import a library")} accept=".zip" onFile={(file) => taking.mutate(file)} />
          </div>
        )}
      </div>
      <Refused by={taking.error} />
      {taking.data && <Taken report={taking.data} />}
      {error && <p className="error">{error.message}</p>}
      <Filters all={all} wish={wish} onWish={setWish} />
      <div className="parts">
        {shown.map((p) => (
          <PartCard key={p.id} part={p} />
        ))}
      </div>
      {data && shown.length === 0 && <p className="muted">{say("No part matches. Ask for less.")}</p>}
    </main>
  );
}

/** Reads a library from a file; what became of each part is said. */
function useTaking() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (file: File) => {
      const bytes = new Uint8Array(await file.arrayBuffer());
      const zip = btoa(Array.from(bytes, (b) => String.fromCharCode(b)).join(""));
      return body(api.POST("/api/projects/library", { body: { id: newId(), zip } }));
    },
    onSuccess: () => client.invalidateQueries({ queryKey: queries.projects().queryKey }),
  });
}

function Taken({ report }: { report: Schema["PackedReport"] }) {
  return (
    <section className="card pad stack" role="status">
      <h2>{sayMany("{count} part read", "{count} parts read", report.taken.length)}</h2>
      <p className="small">{report.taken.map((t) => `${t.name}: ${t.became}`).join(" · ")}</p>
    </section>
  );
}

function fits(p: Card, wish: Wish): boolean {
  const words = wish.find.toLowerCase();
  return (
    (wish.retired || !p.retired) &&
    (words === "" || `${p.name} ${p.about} ${p.material}`.toLowerCase().includes(words)) &&
    (wish.skill === "" || p.operations.includes(wish.skill) || p.gives.includes(wish.skill)) &&
    (wish.feature === "" || p.features.includes(wish.feature)) &&
    (wish.material === "" || p.material === wish.material) &&
    (wish.machine === "" || p.machines.includes(wish.machine)) &&
    (wish.within === "" || (p.minutes !== null && p.minutes <= Number(wish.within) * 60)) &&
    (wish.unit === "" || p.unit === wish.unit)
  );
}

/** Minutes as hours, to the quarter. */
function hoursOf(minutes: number): string {
  return String(Math.max(0.25, Math.round(minutes / 15) / 4));
}

const byName = (a: Card, b: Card) => a.name.localeCompare(b.name);
const mm = (p: Card) => (p.tightest ? Number(p.tightest.mm) : Infinity);
const ORDERS: Record<string, (a: Card, b: Card) => number> = {
  name: byName,
  quick: (a, b) => (a.minutes ?? Infinity) - (b.minutes ?? Infinity) || byName(a, b),
  few: (a, b) => a.characteristics - b.characteristics || byName(a, b),
  tight: (a, b) => mm(a) - mm(b) || byName(a, b),
  given: (a, b) => b.at_work - a.at_work || byName(a, b),
};

function Filters({ all, wish, onWish }: { all: readonly Card[]; wish: Wish; onWish: (wish: Wish) => void }) {
  const list = (key: keyof Wish, label: string, found: Iterable<string>) => (
    <label className="asked">
      {label}
      <Select
        value={wish[key] as string}
        showSearch={{ optionFilterProp: "label" }}
        onChange={(value: string) => onWish({ ...wish, [key]: value })}
        options={[{ value: "", label: say("any") }, ...[...new Set(found)].toSorted().map((v) => ({ value: v, label: v }))]}
      />
    </label>
  );
  return (
    <section className="card pad filters no-print" role="search">
      <label className="asked">
        {say("Find")}
        <Input value={wish.find} allowClear onChange={(e) => onWish({ ...wish, find: e.target.value })} />
      </label>
      {list(
        "skill",
        say("Skill"),
        all.flatMap((p) => [...p.operations, ...p.gives]),
      )}
      {list(
        "feature",
        say("Feature"),
        all.flatMap((p) => p.features),
      )}
      {list(
        "material",
        say("Material"),
        all.map((p) => p.material),
      )}
      {list(
        "machine",
        say("Within the travel of"),
        all.flatMap((p) => p.machines),
      )}
      {list(
        "within",
        say("In at most, hours"),
        all.flatMap((p) => (p.minutes === null ? [] : [String(Math.ceil(p.minutes / 60))])),
      )}
      {list(
        "unit",
        say("Unit"),
        all.map((p) => p.unit),
      )}
      <label className="asked">
        {say("Order")}
        <Select
          value={wish.order}
          onChange={(order: string) => onWish({ ...wish, order })}
          options={[
            { value: "name", label: say("by name") },
            { value: "quick", label: say("the quickest first") },
            { value: "few", label: say("fewest characteristics first") },
            { value: "tight", label: say("the tightest first") },
            { value: "given", label: say("most assigned first") },
          ]}
        />
      </label>
      {all.some((p) => p.retired) && (
        <label className="row">
          <Switch checked={wish.retired} onChange={(retired) => onWish({ ...wish, retired })} />
          {say("include retired")}
        </label>
      )}
    </section>
  );
}

function PartCard({ part: p }: { part: Card }) {
  return (
    <Link to={`/parts/${p.id}`} className={p.retired ? "card part retired" : "card part"}>
      <img src={`/api/versions/${p.version}/outline.svg`} alt="" width="240" height="140" loading="lazy" />
      <div className="pad stack">
        <span className="between">
          <h2>{p.name}</h2>
          <span className="small muted">{p.retired ? say("retired") : say("version {version_number}", { version_number: p.version_number })}</span>
        </span>
        <p className="small">{p.about}</p>
        <p className="small muted">
          {say("{material} · {characteristics} characteristics", { material: p.material, characteristics: p.characteristics })}
          {p.tightest && (
            <>
              {" · "}
              {say("tightest tolerance {width} {unit} wide", { width: textIn(p.tightest, p.tightest.given), unit: p.tightest.given })}
            </>
          )}
          {p.minutes !== null && (
            <>
              {" · "}
              {say("about {hours} h", { hours: hoursOf(p.minutes) })}
            </>
          )}
          {" · "}
          {sayMany("given {count} time", "given {count} times", p.at_work)}
        </p>
        {p.gives.length === 0 && p.operations.length > 0 && (
          <p className="small">
            <span className="muted">{say("Takes ")}</span>
            {p.operations.join(", ")}
          </p>
        )}
        {p.gives.length > 0 && (
          <p className="small">
            <span className="muted">{say("Gives evidence for ")}</span>
            {p.gives.join(", ")}
          </p>
        )}
      </div>
    </Link>
  );
}
