import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { flush, onChange, waiting, type Entry, type Outcome, type Sent } from "./queue";

const RETRY = 2_000;

/** The entries of one person that wait, and a sender that keeps trying. */
export function useQueue(owner: string, told?: (sent: Sent) => void) {
  const [entries, setEntries] = useState<Entry[]>([]);
  const [outcome, setOutcome] = useState<Outcome>("empty");
  const client = useQueryClient();
  const tell = useRef(told);
  useEffect(() => {
    tell.current = told;
  });

  const push = useCallback(async () => {
    let sent = 0;
    const result = await flush(owner, (one) => {
      sent += 1;
      tell.current?.(one);
    });
    setOutcome(result);
    if (sent > 0) await client.invalidateQueries();
  }, [owner, client]);

  useEffect(() => {
    const load = () => void waiting(owner).then(setEntries);
    load();
    const stop = onChange(load);
    void push();
    const timer = setInterval(() => void push(), RETRY);
    const online = () => void push();
    window.addEventListener("online", online);
    return () => {
      stop();
      clearInterval(timer);
      window.removeEventListener("online", online);
    };
  }, [owner, push]);

  return { entries, outcome, push };
}
