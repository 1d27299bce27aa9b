/** The shop's clock: pages show the times of the shop, whatever clock a tablet is set to. */
let zone: string | undefined;

/** The shop's time zone by its IANA name; one that this browser does not know leaves its own. */
export function setZone(name: string): void {
  try {
    zone = new Intl.DateTimeFormat("en", { timeZone: name }).resolvedOptions().timeZone;
  } catch {
    zone = undefined;
  }
}

/** The shop's time zone; none before it is known. */
export function zoneNow(): string | undefined {
  return zone;
}

/** Every time zone that this browser knows. */
export function zones(): string[] {
  return [...new Set(["UTC", ownZone(), ...Intl.supportedValuesOf("timeZone")])].sort();
}

/** The time zone that this browser's clock is set to. */
export function ownZone(): string {
  return new Intl.DateTimeFormat().resolvedOptions().timeZone;
}
