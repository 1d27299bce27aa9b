import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Input, Select } from "antd";
import { useState } from "react";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Dialog } from "../../shared/Dialog";
import { Loading } from "../../shared/Loading";
import { say } from "../../shared/say";
import { useAct } from "../../shared/useAct";
import { EntryForm } from "../../shared/EntryForm";

type Entry = Schema["GaugeEntry"];

/** A gauge: like one of its kind, with its own number, what it spans, and the day of its next check. */
export function NewGauge({ onClose }: { onClose: () => void }) {
  const client = useQueryClient();
  const { data, error: missing } = useQuery(queries.gaugeKinds());
  const { act, error, busy } = useAct();
  const [id] = useState(newId);
  const [kind, setKind] = useState<string>();
  const [name, setName] = useState("");
  const [entry, setEntry] = useState<Entry | null>(null);
  const [thread, setThread] = useState("");
  const [due, setDue] = useState("");
  const chosen = data?.kinds.find((k) => k.id === kind);
  const choose = (next: string) => {
    const of = data?.kinds.find((k) => k.id === next);
    setKind(next);
    setEntry(of?.entry ?? null);
    // another one has a number of its own
    setName(of && !of.own ? of.name : "");
    setThread(of?.thread ?? "");
  };
  const save = () =>
    act(async () => {
      if (!entry) return;
      await body(api.POST("/api/gauges", { body: { id, name: name.trim(), entry, thread, due } }));
      await client.invalidateQueries();
      onClose();
    });
  const field = (key: "least" | "most" | "resolution" | "uncertainty", words: string) => (
    <label className="asked grow">
      {words}
      <Input inputMode="decimal" maxLength={12} value={entry?.[key]} onChange={(e) => entry && setEntry({ ...entry, [key]: e.target.value })} />
    </label>
  );
  return (
    <Dialog title={say("A new gauge")} onClose={onClose}>
      {!data ? (
        <Loading error={missing} />
      ) : (
        <EntryForm onSend={save} yes={say("Add the gauge")} refused={error} busy={busy} ready={!!entry && !!due && name.trim().length >= 2}>
          <label className="asked">
            {say("What it is")}
            <Select
              showSearch={{ optionFilterProp: "label" }}
              value={kind}
              options={data.kinds.map((k) => ({ value: k.id, label: k.name }))}
              onChange={choose}
            />
          </label>
          {chosen && entry && (
            <>
              <label className="asked">
                {say("Its name with its number")}
                <Input value={name} maxLength={80} onChange={(e) => setName(e.target.value)} />
              </label>
              {chosen.threads && (
                <label className="asked">
                  {say("For the thread")}
                  <Select showSearch value={thread || undefined} options={data.threads.map((x) => ({ value: x, label: x }))} onChange={setThread} />
                </label>
              )}
              {!chosen.threads && chosen.entry.kind !== "finish specimens" && (
                <>
                  <div className="row wraps">
                    {field("least", say("From, {unit}", { unit: entry.unit }))}
                    {field("most", say("To, {unit}", { unit: entry.unit }))}
                  </div>
                  <div className="row wraps">
                    {field("resolution", say("Smallest step it shows, {unit}", { unit: entry.unit }))}
                    {field("uncertainty", say("Sure to ±, {unit}", { unit: entry.unit }))}
                  </div>
                  <p className="small muted">
                    {say("What is filled in is usual for its kind. A certificate of your own gauge is better: enter what it says.")}
                  </p>
                </>
              )}
              <label className="asked">
                {say("Its next check is due on")}
                <Input type="date" value={due} onChange={(e) => setDue(e.target.value)} />
              </label>
            </>
          )}
        </EntryForm>
      )}
    </Dialog>
  );
}
