import { createContext, useContext } from "react";
import type { Both, LengthUnit } from "../api/client";
import { say } from "../shared/say";

/** The unit that everything is shown in; switched in the top bar. */
export const ShownUnit = createContext<{ unit: LengthUnit; toggle: () => void }>({
  unit: "in",
  toggle: () => undefined,
});

export function useUnit(): LengthUnit {
  return useContext(ShownUnit).unit;
}

/** The text of a length in a unit, as the server worked it out; of an angle it is the same in both. */
export function textIn(length: Both, unit: Both["given"]): string {
  return unit === "in" ? length.inch : length.mm;
}

/** A length with its unit in the unit that is switched on. */
export function Length({ of, bare = false }: { of: Both | null | undefined; bare?: boolean }) {
  const unit = useUnit();
  if (!of) return <span className="muted">–</span>;
  return (
    <span title={say("given in {given}: {textIn}", { given: of.given, textIn: textIn(of, of.given) })}>
      {textIn(of, unit)}
      {bare && of.given !== "deg" ? "" : unitAfter(of, unit)}
    </span>
  );
}

/** What stands after a value: its unit, or the sign of degrees. */
function unitAfter(of: Both, unit: LengthUnit): string {
  return of.given === "deg" ? "°" : ` ${unit}`;
}

/** What a person read: a value, or the words of a yes or no. */
export function ReadValue({ of }: { of: { value: Both | null; said: string } }) {
  return of.value ? <Length of={of.value} /> : <span>{of.said}</span>;
}
