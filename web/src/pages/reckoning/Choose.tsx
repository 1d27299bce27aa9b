import { Button, Input, Select } from "antd";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import type { Schema } from "../../api/client";
import { Fold } from "../../shared/Fold";
import { useMe } from "../../shared/me";
import { say } from "../../shared/say";

type Calculation = Schema["CalculationView"];

/** What this browser keeps for a person; a browser that keeps nothing only forgets. */
export function kept<T>(key: string, otherwise: T): T {
  try {
    return { ...otherwise, ...(JSON.parse(localStorage.getItem(key) ?? "{}") as T) };
  } catch {
    return otherwise;
  }
}
export function keepIt(key: string, value: unknown): void {
  try {
    localStorage.setItem(key, JSON.stringify(value));
  } catch {
    // nothing is lost but the memory
  }
}

/** How many calculations are kept as used last. */
const LAST = 5;

type Picked = { last: string[]; stars: string[] };
const picked = (person: string): Picked => kept<Picked>(`reckon:${person}:picked`, { last: [], stars: [] });

export function remember(person: string, id: string): void {
  const was = picked(person);
  keepIt(`reckon:${person}:picked`, { ...was, last: [id, ...was.last.filter((x) => x !== id)].slice(0, LAST) });
}

/** Favourites and what was used last first, then the groups in the order of work, folded; a few letters and Enter find any. */
export function Choose({ all, chosen }: { all: readonly Calculation[]; chosen: string }) {
  const { name = "" } = useParams();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const me = useMe();
  const [text, setText] = useState("");
  const [stars, setStars] = useState(() => picked(me.id).stars);
  const last = picked(me.id).last.filter((id) => !stars.includes(id) && id !== chosen);
  const wanted = text.trim().toLowerCase();
  const hits = all.filter((c) => `${c.name} ${c.group}`.toLowerCase().includes(wanted));
  const groups = [...new Set(hits.map((c) => c.group))];
  const to = (id: string) => `/reckon/${id}${search.size ? `?${search}` : ""}`;
  const named = (ids: readonly string[]) => ids.flatMap((id) => all.filter((c) => c.id === id));
  const star = (id: string) => {
    const next = stars.includes(id) ? stars.filter((x) => x !== id) : [...stars, id];
    setStars(next);
    keepIt(`reckon:${me.id}:picked`, { ...picked(me.id), stars: next });
  };
  return (
    <nav className="card pad stack" aria-label={say("Calculations")}>
      <Input
        autoFocus={name === ""}
        placeholder={say("Which calculation?")}
        aria-label={say("Which calculation?")}
        value={text}
        maxLength={60}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== "Enter" || !hits[0]) return;
          // the first value is what one types next
          void navigate(to(hits[0].id), { state: { first: true } });
          setText("");
        }}
      />
      <Select
        className="reckon-pick"
        showSearch={{ optionFilterProp: "label" }}
        aria-label={say("Calculation")}
        value={chosen}
        options={groups.map((g) => ({ label: g, options: all.filter((c) => c.group === g).map((c) => ({ value: c.id, label: c.name })) }))}
        onChange={(id) => void navigate(to(id))}
      />
      <Button type="text" className="plain small" aria-pressed={stars.includes(chosen)} onClick={() => star(chosen)}>
        {stars.includes(chosen) ? say("★ one of my favourites") : say("☆ make it a favourite")}
      </Button>
      <div className="reckon-list">
        {!wanted && <Shelf name={say("Favourites")} of={named(stars)} to={to} chosen={chosen} />}
        {!wanted && <Shelf name={say("Used last")} of={named(last)} to={to} chosen={chosen} />}
        {groups.map((g) => {
          const of = hits.filter((c) => c.group === g);
          return (
            <Fold key={`${g} ${wanted}`} title={g} open={wanted !== "" || of.some((c) => c.id === chosen)}>
              <Shelf name="" of={of} to={to} chosen={chosen} />
            </Fold>
          );
        })}
        {hits.length === 0 && <p className="small muted">{say("No calculation is called that.")}</p>}
      </div>
    </nav>
  );
}

type ShelfProps = { name: string; of: readonly Calculation[]; to: (id: string) => string; chosen: string };

function Shelf({ name, of, to, chosen }: ShelfProps) {
  if (of.length === 0) return null;
  return (
    <div>
      {name && <h3>{name}</h3>}
      {of.map((c) => (
        <Link key={c.id} to={to(c.id)} className={c.id === chosen ? "on" : ""} aria-current={c.id === chosen ? "page" : undefined}>
          {c.name}
        </Link>
      ))}
    </div>
  );
}
