const DAY = 86_400_000;

/** A date as people read it: 14 Mar 2027. Takes a calendar date or a moment. */
export function day(value: string | Date, zone = "UTC"): string {
  const date =
    typeof value === "string" && value.length === 10 ? new Date(`${value}T00:00:00Z`) : new Date(value);
  const inZone = typeof value === "string" && value.length === 10 ? "UTC" : zone;
  return new Intl.DateTimeFormat("en-GB", {
    day: "numeric",
    month: "short",
    year: "numeric",
    timeZone: inZone,
  }).format(date);
}

/** The last day of what ends at a moment: the one before where that is midnight. */
export function lastDay(endsAt: string, zone: string): string {
  return day(new Date(Date.parse(endsAt) - 1), zone);
}

/** The hour of a moment in a zone, from 0 to 23. */
export function hourOf(value: Date, zone: string): number {
  const hour = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", hourCycle: "h23", timeZone: zone });
  return Number(hour.format(value));
}

/** A time of day: 06:00:12. */
export function time(value: string | Date, zone: string): string {
  return new Intl.DateTimeFormat("en-GB", {
    hour: "2-digit",
    minute: "2-digit",
    second: "2-digit",
    timeZone: zone,
  }).format(new Date(value));
}

/** How far a moment or date is from now, in words: in 6 days, 26 minutes ago. */
export function away(value: string | Date, now: Date): string {
  const then =
    typeof value === "string" && value.length === 10 ? new Date(`${value}T00:00:00Z`) : new Date(value);
  const difference = then.getTime() - now.getTime();
  const words = new Intl.RelativeTimeFormat("en", { numeric: "auto" });
  const size = Math.abs(difference);
  if (typeof value === "string" && value.length === 10) {
    const midnight = Date.UTC(now.getUTCFullYear(), now.getUTCMonth(), now.getUTCDate());
    return words.format(Math.round((then.getTime() - midnight) / DAY), "day");
  }
  if (size < 60_000) return words.format(Math.round(difference / 1000), "second");
  if (size < 3_600_000) return words.format(Math.round(difference / 60_000), "minute");
  if (size < DAY) return words.format(Math.round(difference / 3_600_000), "hour");
  return words.format(Math.round(difference / DAY), "day");
}

/** How long something took: 3.1 s, 4 min, 5 h, 12 days. */
export function took(from: string, to: string): string {
  const millis = Date.parse(to) - Date.parse(from);
  if (millis < 1_000) return `${millis} ms`;
  if (millis < 60_000) return `${(millis / 1000).toFixed(1)} s`;
  if (millis < 3_600_000) return `${Math.round(millis / 60_000)} min`;
  if (millis < 2 * DAY) return `${Math.round(millis / 3_600_000)} h`;
  return `${Math.round(millis / DAY)} days`;
}

/** “1 person”, “3 people”. */
export function count(number: number, one: string, many: string): string {
  return `${number.toLocaleString("en-GB")} ${number === 1 ? one : many}`;
}
