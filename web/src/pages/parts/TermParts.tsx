import { useQueryClient } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { useState } from "react";
import { api, body, type Schema } from "../../api/client";
import { Dialog } from "../../shared/Dialog";
import { say } from "../../shared/say";
import { useAct } from "../../shared/useAct";
import { Refused } from "../../shared/Refused";

/** The parts of a term, in their order. */
export function TermParts({ term, onClose }: { term: Schema["TermPage"]; onClose: () => void }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [parts, setParts] = useState(term.parts.map((p) => p.project));
  const names = new Map(term.offered.map((p) => [p.id, p.name]));
  const swap = (a: number, b: number) => setParts(parts.map((p, n) => (n === a ? (parts[b] ?? p) : n === b ? (parts[a] ?? p) : p)));
  const save = () =>
    act(async () => {
      const found = await body(api.PUT("/api/groups/{group}/term", { params: { path: { group: term.group.id } }, body: { parts } }));
      client.setQueryData(["term", term.group.id], found);
      onClose();
    });
  return (
    <Dialog title={say("Parts of {name}", { name: term.group.name })} onClose={onClose}>
      <div className="stack">
        <ol className="term-parts">
          {parts.map((p, n) => (
            <li key={p} className="row">
              <b className="grow">{names.get(p) ?? p}</b>
              <Button size="small" disabled={n === 0} aria-label={say("{part}: earlier", { part: names.get(p) ?? p })} onClick={() => swap(n, n - 1)}>
                ↑
              </Button>
              <Button
                size="small"
                disabled={n === parts.length - 1}
                aria-label={say("{part}: later", { part: names.get(p) ?? p })}
                onClick={() => swap(n, n + 1)}
              >
                ↓
              </Button>
              <Button
                size="small"
                aria-label={say("Remove {name}", { name: names.get(p) ?? p })}
                onClick={() => setParts(parts.filter((x) => x !== p))}
              >
                {say("Remove")}
              </Button>
            </li>
          ))}
        </ol>
        <label className="asked">
          {say("Add a part")}
          <Select
            showSearch={{ optionFilterProp: "label" }}
            value={null}
            onChange={(p: string | null) => p && setParts([...parts, p])}
            options={term.offered.filter((p) => !parts.includes(p.id)).map((p) => ({ value: p.id, label: p.name }))}
          />
        </label>
        <p className="small muted">{say("Job cards that are out stay as they are.")}</p>
        <Refused words={error} />
        <Button type="primary" size="large" disabled={busy} onClick={() => void save()}>
          {say("Save")}
        </Button>
      </div>
    </Dialog>
  );
}
