import { scaleTime } from "@visx/scale";
import type { Schemas } from "../api/client";
import { stateTone } from "../parts/badge";
import { day, time } from "../parts/moments";
import { useWidth } from "../parts/use-width";
import { decidersOf } from "./words";

type Line = Schemas["LineShown"];
type Stage = Schemas["StageShown"];

const NAMES = 250;
const EDGE = 30;
const HOUR = 3_600_000;
const bars: Record<string, string> = {
  success: "bg-success",
  danger: "bg-danger",
  warning: "bg-warning",
  info: "bg-info",
  muted: "bg-muted",
};

/** From when to when a stage is drawn; nothing as long as its turn has not come. */
function span(stage: Stage, now: Date): [Date, Date] | null {
  if (!stage.opened) return null;
  const until = stage.settledAt ? new Date(stage.settledAt) : now;
  return [new Date(stage.opened), until];
}

/** A line's stages from left to right: how long each took, what its clock brings, and now. */
export function RouteLine({ line, now, zone }: { line: Line; now: Date; zone: string }) {
  const { box, width } = useWidth();
  const opened = line.stages.flatMap((stage) => (stage.opened ? [Date.parse(stage.opened)] : []));
  if (opened.length === 0) return null;
  const ends = line.stages.flatMap((stage) =>
    [stage.settledAt, stage.lapsesAt].flatMap((at) => (at ? [Date.parse(at)] : [])),
  );
  const begin = Math.min(...opened);
  const open = line.state === "open";
  const end = Math.max(begin + HOUR, ...ends, ...(open ? [now.getTime()] : []));
  const right = Math.max(width, 620) - EDGE;
  const scale = scaleTime({ domain: [begin, end], range: [NAMES, right] });
  const short = end - begin < 24 * HOUR;
  const axis = (at: number) =>
    short ? `${day(new Date(at), zone)} ${time(new Date(at), zone).slice(0, 5)}` : day(new Date(at), zone);
  const marks = (stage: Stage) =>
    [
      ["reminder", stage.nudgesAt],
      ["standby", stage.standbyFrom],
      ["lapses", stage.lapsesAt],
    ].filter((mark): mark is [string, string] => !!mark[1]);
  return (
    <div ref={box} className="relative mt-4 pb-8 max-md:hidden" aria-hidden>
      <div className="flex justify-between text-dense text-muted" style={{ paddingLeft: NAMES }}>
        <span>{axis(begin)}</span>
        <span>{axis(end)}</span>
      </div>
      <ol className="border-t border-rule">
        {line.stages.map((stage) => {
          const drawn = span(stage, now);
          const from = drawn ? scale(drawn[0]) : NAMES;
          const to = drawn ? Math.max(scale(drawn[1]), from + 4) : NAMES;
          return (
            <li key={stage.number} className="relative h-14 border-b border-rule">
              <span className="absolute inset-y-0 left-0 py-1" style={{ width: NAMES - 20 }}>
                <span className="block truncate">
                  {stage.beside ? "and " : ""}
                  {decidersOf(stage.ask, stage.agree)}
                </span>
                <span className="block truncate text-dense text-muted">{people(stage)}</span>
              </span>
              {drawn ? (
                <>
                  <span
                    className={`absolute top-3 h-3 rounded-sm ${stage.state === "held" ? "hatched border border-warning" : (bars[stateTone(stage.state)] ?? "bg-info")}`}
                    style={{ left: from, width: to - from }}
                  />
                  {stage.lapsesAt && (
                    <span
                      className="absolute top-[17px] h-px border-t border-dashed border-muted"
                      style={{ left: to, width: Math.max(0, scale(new Date(stage.lapsesAt)) - to) }}
                    />
                  )}
                  {marks(stage).map(([word, at]) => (
                    <Mark key={word} word={word} x={scale(new Date(at))} last={right} at={day(at, zone)} />
                  ))}
                  <span
                    className="absolute top-7 truncate text-dense text-muted"
                    style={{ left: Math.min(from + 6, right - 220), maxWidth: 220 }}
                  >
                    {stage.settledAt ? settled(stage, zone) : stage.state === "held" ? "held" : ""}
                  </span>
                </>
              ) : (
                <span className="absolute top-3 text-dense text-muted" style={{ left: NAMES + 8 }}>
                  {open ? "comes after" : stage.state.replace("-", " ")}
                </span>
              )}
            </li>
          );
        })}
      </ol>
      {open && (
        <>
          <div
            className="pointer-events-none absolute top-5 bottom-6 w-0.5 bg-ink"
            style={{ left: scale(now) }}
          />
          <div
            className="absolute bottom-0 -translate-x-1/2 rounded-sm bg-ink px-2 text-dense whitespace-nowrap text-ground"
            style={{ left: Math.min(Math.max(scale(now), NAMES), right - 20) }}
          >
            {day(now, zone)}
          </div>
        </>
      )}
    </div>
  );
}

function people(stage: Stage): string {
  if (stage.settledBy) return stage.settledBy;
  if (stage.state === "met" || stage.state === "left-out") return stage.reason;
  return stage.who.map((each) => each.name).join(", ") || (stage.opened ? "an administrator" : "");
}

function settled(stage: Stage, zone: string): string {
  const at = stage.settledAt!;
  return `${stage.state.replace("-", " ")} ${day(at, zone)} ${time(at, zone).slice(0, 5)}`;
}

function Mark({ word, x, last, at }: { word: string; x: number; last: number; at: string }) {
  return (
    <>
      <span className="absolute top-2 h-5 w-0.5 bg-muted" style={{ left: x }} title={`${word} ${at}`} />
      <span
        className={`absolute top-7 text-dense whitespace-nowrap text-muted ${x > last - 60 ? "-translate-x-full" : "-translate-x-1/2"}`}
        style={{ left: x }}
      >
        {word}
      </span>
    </>
  );
}
