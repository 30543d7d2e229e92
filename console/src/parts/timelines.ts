import type { Schemas } from "../api/client";

export type Span = Schemas["StandingSpan"];
export type TimelineLane = Schemas["Lane"];

const DAY = 86_400_000;
const BACK = 180 * DAY;
const AHEAD = 150 * DAY;

export type DrawnBar = {
  grant: string;
  target: string;
  name: string;
  basis: string;
  basisKey: string;
  from: Date;
  until?: Date;
  endReason: string;
  suspended: { from: Date; until?: Date }[];
};

/** From when to when to draw: what there is to see, but at most about a year around today. */
export function range(now: Date, standings: Span[], lanes: TimelineLane[]): [Date, Date] {
  const starts = lanes.flatMap((lane) => lane.bars.map((bar) => Date.parse(bar.from)));
  const dates = standings.flatMap((span) => [span.from, span.until]).filter((each) => each != null);
  const ends = lanes.flatMap((lane) =>
    lane.bars.flatMap((bar) => (bar.until ? [Date.parse(bar.until)] : [])),
  );
  const earliest = Math.min(now.getTime() - 20 * DAY, ...starts);
  const latest = Math.max(
    now.getTime() + 60 * DAY,
    ...ends,
    ...dates.map((date) => Date.parse(date)),
    ...starts,
  );
  const from = Math.max(earliest - 10 * DAY, now.getTime() - BACK);
  const shown = Math.min(latest, now.getTime() + AHEAD);
  // Room at the right for what stands after the end of a bar.
  const until = shown + Math.max(20 * DAY, (shown - from) * 0.3);
  return [new Date(from), new Date(until)];
}

/** The firsts of months in a range, every second or third where they would not fit. */
export function months(from: Date, until: Date, room: number): { at: Date; text: string }[] {
  const found: { at: Date; text: string }[] = [];
  const at = new Date(Date.UTC(from.getUTCFullYear(), from.getUTCMonth() + 1, 1));
  while (at < until) {
    const name = at.toLocaleDateString("en-GB", { month: "short", timeZone: "UTC" });
    const year = String(at.getUTCFullYear()).slice(2);
    found.push({
      at: new Date(at),
      text: found.length === 0 || at.getUTCMonth() === 0 ? `${name} ’${year}` : name,
    });
    at.setUTCMonth(at.getUTCMonth() + 1);
  }
  const step = Math.max(1, Math.ceil(found.length / Math.max(1, room)));
  return found.filter((_, index) => index % step === 0);
}

/** The bars of an application, with the stretches in which leave suspends them. */
export function bars(lane: TimelineLane, standings: Span[]): DrawnBar[] {
  const leaves = standings.filter((span) => span.standing === "on-leave");
  return lane.bars.map((bar) => {
    const from = new Date(bar.from);
    const until = bar.until ? new Date(bar.until) : undefined;
    const suspended = leaves
      .map((leave) => ({
        from: new Date(Math.max(from.getTime(), Date.parse(leave.from ?? bar.from))),
        until: leave.until ? new Date(leave.until) : undefined,
      }))
      .filter((gap) => (!gap.until || gap.until > from) && (!until || gap.from < until));
    return { ...bar, from, until, suspended };
  });
}
