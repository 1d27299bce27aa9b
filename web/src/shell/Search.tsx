import { Input } from "antd";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Me } from "../api/client";
import { queries } from "../api/queries";

type Hit = { to: string; name: string; kind: string };

/** One search over what this person may open: students, parts, machines, calculations, skills. */
export function Search({ me }: { me: Me }) {
  const staff = me.role !== "student";
  const [text, setText] = useState("");
  const [used, setUsed] = useState(false);
  const [at, setAt] = useState(0);
  const navigate = useNavigate();
  const parts = useQuery({ ...queries.projects(), enabled: used });
  const people = useQuery({ ...queries.classTable(), enabled: used && staff });
  const shop = useQuery({ ...queries.shop(), enabled: used && staff });
  const reckonings = useQuery({ ...queries.reckonings(), enabled: used });
  const all: Hit[] = [
    ...(people.data?.rows ?? []).map((r) => ({ to: `/skills/${r.student.id}`, name: r.student.name, kind: "student" })),
    ...(parts.data?.projects ?? []).map((p) => ({ to: `/parts/${p.id}`, name: p.name, kind: "part" })),
    ...(shop.data?.machines ?? []).map((m) => ({ to: `/machines/${m.id}`, name: m.name, kind: "machine" })),
    ...(reckonings.data?.calculations ?? []).map((c) => ({ to: `/reckon/${c.id}`, name: c.name, kind: "calculation" })),
    ...(people.data?.skills ?? []).map((s) => ({ to: `/class?skill=${s.id}`, name: s.name, kind: "skill" })),
  ];
  const wanted = text.trim().toLowerCase();
  const hits = wanted ? all.filter((h) => h.name.toLowerCase().includes(wanted)).slice(0, 8) : [];
  const go = (hit: Hit | undefined) => {
    if (!hit) return;
    setText("");
    navigate(hit.to);
  };
  const press = (event: React.KeyboardEvent<HTMLInputElement>) => {
    if (event.key === "Enter") go(hits[at]);
    else if (event.key === "ArrowDown") setAt(Math.min(at + 1, hits.length - 1));
    else if (event.key === "ArrowUp") setAt(Math.max(at - 1, 0));
    else if (event.key === "Escape") {
      setText("");
      event.currentTarget.blur();
    }
  };
  return (
    <div className="search">
      <Input
        id="search"
        value={text}
        placeholder="Find"
        aria-label="Search"
        title={staff ? "Find a student, part, machine, calculation, skill" : "Find a part or a calculation"}
        autoComplete="off"
        maxLength={80}
        onFocus={() => setUsed(true)}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={press}
      />
      <kbd>/</kbd>
      {wanted && (
        <ul className="card" role="listbox">
          {hits.map((h, i) => (
            <li key={h.kind + h.name} role="option" aria-selected={i === at} className={i === at ? "on" : ""} onMouseDown={() => go(h)}>
              {h.name} <span className="muted small">{h.kind}</span>
            </li>
          ))}
          {hits.length === 0 && <li className="muted">Nothing is called that.</li>}
        </ul>
      )}
    </div>
  );
}
