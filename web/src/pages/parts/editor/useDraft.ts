import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, body, type Schema } from "../../../api/client";
import type { PartFile } from "./file";

type Act = NonNullable<Schema["DraftCommand"]["act"]>;
export type Draft = Schema["DraftView"];

/** How long after the last key the server is asked. */
const PAUSE = 220;
/** So many steps can be taken back. */
const MOST_STEPS = 200;

/**
 * A part while it is being made: its file with every step back, and what the server says of it.
 * What cannot be read keeps the last drawing.
 */
export function useDraft(begin: string, start?: Act) {
  const [past, setPast] = useState<PartFile[]>([]);
  const [file, setFile] = useState<PartFile | null>(null);
  const [future, setFuture] = useState<PartFile[]>([]);
  const [draft, setDraft] = useState<Draft | null>(null);
  const [seen, setSeen] = useState<Draft | null>(null);
  const latest = useRef(0);
  const now = useRef<PartFile | null>(null);
  const acting = useRef<Promise<boolean>>(Promise.resolve(true));
  const asking = useMutation({
    mutationFn: (p: { file: string; act?: Act }) => body(api.POST("/api/part-drafts", { body: { file: p.file, act: p.act ?? null } })),
  });
  const { mutateAsync } = asking;

  const take = (answer: Draft) => {
    setDraft(answer);
    if (answer.svg !== null) setSeen(answer);
  };
  const look = async (next: PartFile) => {
    const turn = ++latest.current;
    const answer = await mutateAsync({ file: JSON.stringify(next) }).catch(() => null);
    if (answer && turn === latest.current) take(answer);
  };
  useEffect(() => {
    const turn = ++latest.current;
    void mutateAsync({ file: begin, ...(start && { act: start }) }).then(
      (answer) => {
        if (turn !== latest.current) return;
        now.current = JSON.parse(answer.file) as PartFile;
        setFile(now.current);
        take(answer);
      },
      () => undefined,
    );
    // it begins once; what comes after is done by hand
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const keep = (next: PartFile) => {
    const before = now.current;
    if (before) setPast((all) => [...all, before].slice(-MOST_STEPS));
    setFuture([]);
    now.current = next;
    setFile(next);
  };
  /** The file is changed by hand: the drawing follows. */
  const change = (next: PartFile) => {
    keep(next);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => void look(next), PAUSE);
  };
  /** Something is done to the file by the server: one after the other, each to what the one before has made. */
  const act = (what: Act): Promise<boolean> => {
    const done = acting.current.then(() => doing(what));
    acting.current = done;
    return done;
  };
  const doing = async (what: Act): Promise<boolean> => {
    clearTimeout(timer.current);
    for (;;) {
      const sent = now.current;
      const turn = ++latest.current;
      const answer = await mutateAsync({ file: JSON.stringify(sent), act: what }).catch(() => null);
      if (!answer) return false;
      // what was typed meanwhile is not lost: it is done to that
      if (sent !== now.current) continue;
      keep(JSON.parse(answer.file) as PartFile);
      if (turn === latest.current) take(answer);
      return true;
    }
  };
  const step = (from: PartFile[], to: PartFile[], setFrom: (f: PartFile[]) => void, setTo: (f: PartFile[]) => void) => {
    const next = from.at(-1);
    if (!next || !file) return;
    setFrom(from.slice(0, -1));
    setTo([...to, file]);
    now.current = next;
    setFile(next);
    void look(next);
  };
  return {
    file,
    /** The last answer; its faults are those of the file as it stands. */
    draft,
    /** The last answer with a drawing. */
    seen,
    error: asking.error,
    change,
    act,
    undo: past.length > 0 ? () => step(past, future, setPast, setFuture) : null,
    redo: future.length > 0 ? () => step(future, past, setFuture, setPast) : null,
    changed: past.length > 0,
  };
}
