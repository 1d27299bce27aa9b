import { useState } from "react";
import { wordsFor } from "../api/client";

/** Runs something that changes the server's state; keeps what it refused, in words. */
export function useAct() {
  const [error, setError] = useState("");
  const [busy, setBusy] = useState(false);
  const act = async (what: () => Promise<unknown>): Promise<boolean> => {
    setBusy(true);
    setError("");
    try {
      await what();
      return true;
    } catch (failed) {
      setError(wordsFor(failed));
      return false;
    } finally {
      setBusy(false);
    }
  };
  return { act, error, busy };
}
