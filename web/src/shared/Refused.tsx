import { wordsFor } from "../api/client";

/** What was refused and why, under the form that asked; nothing while nothing was refused. */
export function Refused({ words = "", by = null }: { words?: string; by?: Error | null }) {
  const said = by ? wordsFor(by) : words;
  return said ? (
    <p className="error" role="alert">
      {said}
    </p>
  ) : null;
}
