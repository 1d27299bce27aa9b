import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, body, type Schema } from "../../../api/client";
import type { PartFile } from "./file";

type Act = NonNullable<Schema["DraftCommand"]["act"]>;
export type Draft = Schema["DraftView"];

/** How long after the last key the server is asked. */
const PAUSE = 220;

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
        setFile(JSON.parse(answer.file) as PartFile);
        take(answer);
      },
      () => undefined,
    );
    // it begins once; what comes after is done by hand
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const keep = (next: PartFile) => {
    if (file) setPast([...past, file].slice(-200));
    setFuture([]);
    setFile(next);
  };
  /** The file is changed by hand: the drawing follows. */
  const change = (next: PartFile) => {
    keep(next);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => void look(next), PAUSE);
  };
  /** Something is done to the file by the server. */
  const act = async (what: Act) => {
    clearTimeout(timer.current);
    const turn = ++latest.current;
    const answer = await mutateAsync({ file: JSON.stringify(file), act: what }).catch(() => null);
    if (!answer || turn !== latest.current) return false;
    keep(JSON.parse(answer.file) as PartFile);
    take(answer);
    return true;
  };
  const step = (from: PartFile[], to: PartFile[], setFrom: (f: PartFile[]) => void, setTo: (f: PartFile[]) => void) => {
    const next = from.at(-1);
    if (!next || !file) return;
    setFrom(from.slice(0, -1));
    setTo([...to, file]);
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
