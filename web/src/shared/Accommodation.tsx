import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { api, body, type Schema } from "../api/client";
import { queries } from "../api/queries";
import { Dialog } from "./Dialog";
import { Fold } from "./Fold";
import { useMe } from "./me";
import { say } from "./say";
import { when } from "./time";
import { useAct } from "./useAct";
import { EntryForm } from "./EntryForm";

type Note = Schema["AccommodationView"];

/** What helps a student to work here, where who teaches needs it; nothing for anybody else. */
export function Accommodation({ student }: { student: string }) {
  const me = useMe();
  const teaches = me.role === "instructor" || me.role === "assistant";
  const { data } = useQuery({ ...queries.accommodation(student), enabled: teaches && me.id !== student });
  const [open, setOpen] = useState(false);
  if (!data) return null;
  const change = me.role === "instructor" && (
    <Button aria-label={data.words ? say("Change accommodations") : say("Add accommodations")} onClick={() => setOpen(true)}>
      {data.words ? say("Change") : say("Add accommodations")}
    </Button>
  );
  return (
    <>
      {data.words ? (
        <section className="card pad stack">
          <div className="between">
            <h2>{say("Accommodations")}</h2>
            {change}
          </div>
          <p className="as-typed">{data.words}</p>
          <p className="small muted">
            {data.at && say("{by}, {at}; visible to instructors and assistants only", { by: data.by, at: when(data.at) })}
          </p>
        </section>
      ) : (
        change && <p>{change}</p>
      )}
      {open && <Change note={data} onClose={() => setOpen(false)} />}
    </>
  );
}

function Change({ note, onClose }: { note: Note; onClose: () => void }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [words, setWords] = useState(note.words);
  const save = () =>
    act(async () => {
      const fresh = await body(
        api.PUT("/api/students/{student}/accommodation", { params: { path: { student: note.student.id } }, body: { words, based_on: note.at } }),
      );
      client.setQueryData(queries.accommodation(note.student.id).queryKey, fresh);
      await client.invalidateQueries();
      onClose();
    });
  return (
    <Dialog title={say("Accommodations: {name}", { name: note.student.name })} onClose={onClose}>
      <EntryForm onSend={save} yes={say("Save")} refused={error} busy={busy} ready={words.trim() !== note.words}>
        <label className="asked">
          {say("What was agreed: a seat, larger print, more time, a light instead of a bell")}
          <Input.TextArea rows={5} maxLength={1000} value={words} onChange={(e) => setWords(e.target.value)} />
        </label>
        <p className="small muted">
          {say(
            "Write what to do, not why. Instructors and assistants can read it, and it is part of {name}'s own data. Earlier wording is not kept. What has to be shown before working alone stays the same.",
            { name: note.student.name },
          )}
        </p>
      </EntryForm>
    </Dialog>
  );
}

/** The same for everybody who is here, folded in until it is wanted. */
export function AccommodationsHere() {
  const me = useMe();
  const { data } = useQuery({ ...queries.accommodationsHere(), enabled: me.role === "instructor" || me.role === "assistant" });
  if (!data || data.people.length === 0) return null;
  return (
    <Fold className="floor-agreed" title={say("Accommodations for {names}", { names: data.people.map((p) => p.student.name).join(", ") })}>
      <dl className="stack">
        {data.people.map((p) => (
          <div key={p.student.id}>
            <dt>
              <b>{p.student.name}</b>
            </dt>
            <dd className="as-typed">{p.words}</dd>
          </div>
        ))}
      </dl>
    </Fold>
  );
}
