import type { Characteristic, JobCard, Reading } from "../../api/client";

const ORDER = ["ideal", "allowed", "coarse", "hopeless", "unfit"];

/** The instrument to offer: the picked one, the one used here before, else the best that may decide. */
export function instrumentFor(card: JobCard, c: Characteristic, readings: readonly Reading[], picked: string | null): string | undefined {
  if (picked && card.instruments.some((i) => i.id === picked)) return picked;
  const before = readings.at(-1)?.instrument.id;
  if (before && card.instruments.some((i) => i.id === before && !i.cannot_decide)) return before;
  const rank = (id: string) => ORDER.indexOf(c.fits.find((f) => f.instrument === id)?.suitability ?? "unfit");
  const usable = card.instruments.filter((i) => !i.cannot_decide);
  const sorted = usable.toSorted((a, b) => rank(a.id) - rank(b.id) || Number(a.unit !== card.unit) - Number(b.unit !== card.unit));
  return (sorted[0] ?? card.instruments[0])?.id;
}

/** Whether a characteristic still wants something from the student. */
export function wants(c: Characteristic): boolean {
  return c.rework ? c.finding.verdict === "not_measured" : c.finding.verdict === "not_measured" || c.finding.ask_again !== "";
}

/** The next characteristic that wants a reading, after this one and round again. */
export function nextWanting(all: readonly Characteristic[], after: number): number | undefined {
  const at = all.findIndex((c) => c.number === after);
  const order = [...all.slice(at + 1), ...all.slice(0, at + 1)];
  return order.find((c) => wants(c) && c.number !== after)?.number ?? order[0]?.number;
}
