import { useQuery } from "@tanstack/react-query";
import { AutoComplete, Input } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Me } from "../api/client";
import { queries } from "../api/queries";
import { say } from "../shared/say";

type Hit = { to: string; name: string; kind: string; also?: string };
const MOST = 8;

/** One search over what this person may open: students, parts, machines, calculations, skills. */
export function Search({ me }: { me: Me }) {
  const staff = me.role !== "student";
  const [text, setText] = useState("");
  const [used, setUsed] = useState(false);
  const navigate = useNavigate();
  const parts = useQuery({ ...queries.projects(), enabled: used });
  const wanted = text.trim().toLowerCase();
  const people = useQuery({ ...queries.students(wanted), enabled: used && staff && wanted !== "" });
  const skills = useQuery({ ...queries.skillNames(), enabled: used && staff });
  const shop = useQuery({ ...queries.shop(), enabled: used && staff });
  const terms = useQuery({ ...queries.glossary(), enabled: used });
  const reckonings = useQuery({ ...queries.reckonings(), enabled: used });
  const all: Hit[] = [
    ...(people.data?.students ?? []).map((r) => ({
      to: `/skills/${r.student.id}`,
      name: r.student.name,
      kind: r.group ? say("student, {group}", { group: r.group }) : say("student"),
    })),
    ...(parts.data?.projects ?? []).map((p) => ({ to: `/parts/${p.id}`, name: p.name, kind: say("part") })),
    ...(shop.data?.machines ?? []).map((m) => ({ to: `/machines/${m.id}`, name: m.name, kind: say("machine") })),
    ...(reckonings.data?.calculations ?? []).map((c) => ({ to: `/reckon/${c.id}`, name: c.name, kind: say("calculation") })),
    ...(terms.data?.terms ?? []).map((w) => ({
      to: `/words?find=${encodeURIComponent(w.word)}`,
      name: w.word,
      also: w.also.join(" "),
      kind: w.also.length ? say("word, also called {names}", { names: w.also.join(", ") }) : say("word of the trade"),
    })),
    ...(skills.data?.skills ?? []).map((s) => ({ to: `/class?skill=${s.id}`, name: s.name, kind: say("skill") })),
  ];
  const hits = wanted ? all.filter((h) => `${h.name} ${h.also ?? ""}`.toLowerCase().includes(wanted)).slice(0, MOST) : [];
  return (
    <AutoComplete
      className="search"
      value={text}
      defaultActiveFirstOption
      popupMatchSelectWidth={280}
      notFoundContent={wanted ? say("Nothing is called that.") : null}
      options={hits.map((h) => ({
        value: h.to,
        label: (
          <>
            {h.name} <span className="muted small">{h.kind}</span>
          </>
        ),
      }))}
      onFocus={() => setUsed(true)}
      showSearch={{ onSearch: setText }}
      onSelect={(to: string) => {
        setText("");
        void navigate(to);
      }}
    >
      <Input
        id="search"
        size="small"
        placeholder={say("Find")}
        aria-label={say("Search")}
        title={staff ? say("Find a student, part, machine, calculation, word, skill") : say("Find a part, a calculation, a word")}
        autoComplete="off"
        maxLength={80}
        suffix={<kbd>/</kbd>}
        onKeyDown={(e) => {
          if (e.key !== "Escape") return;
          setText("");
          e.currentTarget.blur();
        }}
      />
    </AutoComplete>
  );
}
