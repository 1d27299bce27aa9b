import type { Characteristic, JobCard, Reading, Schema } from "../../api/client";

/** The instrument to begin with: the picked one, the one used here before while it may decide, else what is offered. */
export function instrumentFor(
  card: JobCard,
  of: Pick<Schema["ElementView"], "offers">,
  readings: readonly Reading[],
  picked: string | null,
): string | undefined {
  if (picked && card.instruments.some((i) => i.id === picked)) return picked;
  const before = readings.at(-1)?.instrument.id;
  if (before && card.instruments.some((i) => i.id === before && !i.cannot_decide)) return before;
  return of.offers ?? undefined;
}

/** The next characteristic that wants a reading, after this one and round again. */
export function nextWanting(all: readonly Characteristic[], after: number): number | undefined {
  const at = all.findIndex((c) => c.number === after);
  const order = [...all.slice(at + 1), ...all.slice(0, at + 1)];
  return order.find((c) => c.wants && c.number !== after)?.number ?? order[0]?.number;
}
