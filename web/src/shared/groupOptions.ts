import type { Schema } from "../api/client";
import { say } from "./say";

/** The groups of this term to choose from, and the one that is shown even when its term is over. */
export function groupOptions(shown: { group: Schema["Named"] | null; choices: Schema["Named"][] }): { value: string; label: string }[] {
  const { group, choices } = shown;
  const all = !group || choices.some((c) => c.id === group.id) ? choices : [group, ...choices];
  return all.length ? all.map((g) => ({ value: g.id, label: g.name })) : [{ value: "", label: say("no group this term") }];
}
