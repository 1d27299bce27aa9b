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

/** The text of a length in a unit, as the server worked it out. */
export function textIn(length: Both, unit: LengthUnit): string {
  return unit === "in" ? length.inch : length.mm;
}

/** A length with its unit in the unit that is switched on. */
export function Length({ of, bare = false }: { of: Both | null | undefined; bare?: boolean }) {
  const unit = useUnit();
  if (!of) return <span className="muted">–</span>;
  return (
    <span title={say("given in {given}: {textIn}", { given: of.given, textIn: textIn(of, of.given) })}>
      {textIn(of, unit)}
      {bare ? "" : ` ${unit}`}
    </span>
  );
}
