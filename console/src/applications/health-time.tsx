import { useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../api/client";
import { useNow, useZone } from "../api/session";
import { count, day, time, took } from "../parts/moments";
import { Heading } from "../parts/title";

const DAYS = 30;
const DAY = 86_400_000;

type Turn = Schemas["HealthTurn"];

export type Stretch = { from: Date; until: Date; state: string; sentence: string };

/** The stretches between turns, within the last days; before the first turn nothing was known. */
export function stretches(turns: Turn[], now: Date): Stretch[] {
  const begin = new Date(now.getTime() - DAYS * DAY);
  return turns
    .map((turn, index) => {
      const from = new Date(turn.at);
      const next = turns[index + 1];
      const until = next ? new Date(next.at) : now;
      return { from: from < begin ? begin : from, until, state: turn.state, sentence: turn.sentence };
    })
    .filter((each) => each.until > begin && each.from <= now);
}

/** An application's health through the last thirty days: a line of time, and in words what was wrong. */
export function HealthTime({ application }: { application: string }) {
  const now = useNow();
  const zone = useZone();
  const { data: turns } = useQuery({
    queryKey: ["application-health", application],
    queryFn: async () =>
      (
        await data(
          api.GET("/api/v1/applications/{key}/health", {
            params: { path: { key: application }, query: { days: DAYS } },
          }),
        )
      ).items,
    refetchInterval: 30_000,
  });
  if (!turns) return null;
  const begin = now.getTime() - DAYS * DAY;
  const shown = stretches(turns, now);
  const unwell = shown.filter((each) => each.state === "unwell");
  const place = (at: Date) => `${((at.getTime() - begin) / (DAYS * DAY)) * 100}%`;
  return (
    <>
      <Heading
        aside={
          unwell.length === 0
            ? "well all the time it was asked"
            : `unwell ${count(unwell.length, "time", "times")}`
        }
      >
        The last thirty days
      </Heading>
      <div aria-hidden className="relative h-4 border-b border-rule">
        {shown.map((each) => (
          <span
            key={each.from.toISOString()}
            className={`absolute bottom-0 ${each.state === "well" ? "h-1.5 bg-success" : "h-4 bg-danger"}`}
            style={{
              left: place(each.from),
              width: `max(2px, calc(${place(each.until)} - ${place(each.from)}))`,
            }}
          />
        ))}
        <span className="absolute right-0 bottom-0 h-5 w-px bg-ink" />
      </div>
      <div className="flex justify-between text-dense text-muted">
        <span>{day(new Date(begin), zone)}</span>
        <span>now</span>
      </div>
      {unwell.length > 0 && (
        <ul className="mt-2">
          {unwell
            .toReversed()
            .slice(0, 10)
            .map((each) => (
              <li key={each.from.toISOString()} className="border-t border-rule py-1.5">
                <span className="text-danger">
                  {day(each.from, zone)} {time(each.from, zone)}
                </span>
                <span className="text-muted">
                  {" "}
                  for {took(each.from.toISOString(), each.until.toISOString())}:
                </span>{" "}
                {each.sentence}
              </li>
            ))}
        </ul>
      )}
    </>
  );
}
