import { scaleTime } from "@visx/scale";
import { useLayoutEffect, useRef, useState } from "react";
import { bars, months, range, type Span, type TimelineLane } from "./timelines";
import { away, day } from "./moments";

const NAMES = 210;
const LANE = 27;

/**
 * Access through time: one bar a grant, hatched while suspended, open ends fade out, ends are flagged,
 * and today is the one thin rule through all of it.
 */
export function Timeline(props: {
  now: Date;
  standings: Span[];
  lanes: TimelineLane[];
  pick?: (target: string) => void;
}) {
  return (
    <>
      <Drawn {...props} />
      <AsTable {...props} />
    </>
  );
}

/** The same in words, for those who cannot see it, or want to copy it. */
function AsTable({ standings, lanes }: { standings: Span[]; lanes: TimelineLane[] }) {
  const head = ["Where", "What", "Because of", "From", "Until", "Why it ended"];
  return (
    <details className="mt-2">
      <summary className="cursor-pointer text-dense text-muted">As a table</summary>
      <div
        className="overflow-x-auto"
        tabIndex={0}
        role="region"
        aria-label="Access through time, as a table"
      >
        <table className="mt-2 w-full border-collapse text-left text-dense">
          <thead>
            <tr>
              {head.map((each) => (
                <th key={each} scope="col" className="pr-4 font-normal text-muted">
                  {each}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {standings.map((span) => (
              <Line
                key={span.standing + span.from}
                cells={["Standing", span.standing.replace("-", " "), "", span.from, span.until, ""]}
              />
            ))}
            {lanes.flatMap((lane) =>
              lane.bars.map((bar) => (
                <Line
                  key={bar.grant}
                  cells={[
                    lane.name,
                    bar.name,
                    [bar.basis, bar.basisKey].filter(Boolean).join(" "),
                    bar.from,
                    bar.until,
                    bar.endReason,
                  ]}
                />
              )),
            )}
          </tbody>
        </table>
      </div>
    </details>
  );
}

function Line({ cells: [where, what, why, from, until, end] }: { cells: (string | null | undefined)[] }) {
  return (
    <tr className="border-t border-rule">
      <th scope="row" className="py-1 pr-4 font-normal">
        {where}
      </th>
      <td className="pr-4">{what}</td>
      <td className="pr-4">{why}</td>
      <td className="pr-4 whitespace-nowrap">{from ? day(from) : "always"}</td>
      <td className="pr-4 whitespace-nowrap">{until ? day(until) : "open"}</td>
      <td>{end}</td>
    </tr>
  );
}

function Drawn({
  now,
  standings,
  lanes,
  pick,
}: {
  now: Date;
  standings: Span[];
  lanes: TimelineLane[];
  pick?: (target: string) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  useLayoutEffect(() => {
    const seen = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    if (box.current) seen.observe(box.current);
    return () => seen.disconnect();
  }, []);
  const [from, until] = range(now, standings, lanes);
  const scale = scaleTime({ domain: [from, until], range: [NAMES, Math.max(width, 480)] });
  const today = scale(now);
  const edge = scale.range()[1]!;
  const marks = months(from, until, (edge - NAMES) / 64).filter((mark) => scale(mark.at) < edge - 48);
  return (
    <div ref={box} className="relative pb-8">
      <div className="relative h-6" aria-hidden>
        {marks.map((mark) => (
          <span
            key={mark.at.getTime()}
            className="absolute text-dense text-muted"
            style={{ left: scale(mark.at) + 4 }}
          >
            {mark.text}
          </span>
        ))}
      </div>
      <div className="absolute inset-y-0 top-6 bottom-8" aria-hidden>
        {marks.map((mark) => (
          <span
            key={mark.at.getTime()}
            className="absolute inset-y-0 w-px bg-rule"
            style={{ left: scale(mark.at) }}
          />
        ))}
      </div>
      <StandingLine standings={standings} scale={scale} now={now} until={until} />
      {lanes.map((lane) => (
        <section key={lane.application} aria-label={lane.name}>
          <h2 className="relative mt-3 border-b border-rule pb-1 text-body font-bold">{lane.name}</h2>
          {bars(lane, standings).map((bar) => (
            <div key={bar.grant} className="relative" style={{ height: LANE }}>
              <button
                type="button"
                onClick={() => pick?.(bar.target)}
                className="absolute left-3 truncate text-left leading-[27px] hover:underline"
                style={{ width: NAMES - 20 }}
              >
                {bar.name}
              </button>
              <Bar bar={bar} scale={scale} now={now} until={until} from={from} />
            </div>
          ))}
        </section>
      ))}
      <div
        className="pointer-events-none absolute inset-y-0 top-5 bottom-2 w-0.5 bg-ink"
        style={{ left: today }}
        aria-hidden
      />
      <div
        className="absolute bottom-0 -translate-x-1/2 rounded-sm bg-ink px-2 text-dense text-ground"
        style={{ left: today }}
      >
        {day(now)}
      </div>
    </div>
  );
}

type Scale = (at: Date) => number;

function StandingLine({
  standings,
  scale,
  now,
  until,
}: {
  standings: Span[];
  scale: Scale;
  now: Date;
  until: Date;
}) {
  const tones: Record<string, string> = {
    expected: "bg-info",
    active: "bg-success",
    "on-leave": "hatched",
    left: "bg-rule",
  };
  return (
    <div className="relative h-10">
      <span className="absolute top-3 font-bold">Standing</span>
      {standings.map((span) => {
        const left = Math.max(NAMES, scale(new Date(span.from ?? now)));
        const right = scale(span.until ? new Date(span.until) : until);
        return (
          <span
            key={span.standing + span.from}
            className="absolute top-0"
            style={{ left, width: Math.max(0, right - left) }}
          >
            <span className="block h-5 truncate text-dense text-muted">
              {span.standing.replace("-", " ")}
            </span>
            <span className={`block h-1.5 ${tones[span.standing] ?? "bg-muted"}`} />
          </span>
        );
      })}
    </div>
  );
}

function Bar({
  bar,
  scale,
  now,
  from,
  until,
}: {
  bar: ReturnType<typeof bars>[number];
  scale: Scale;
  now: Date;
  from: Date;
  until: Date;
}) {
  const left = scale(bar.from < from ? from : bar.from);
  const right = scale(bar.until ?? until);
  const ahead = bar.from > now;
  const tone = bar.basis === "birthright" ? "bg-success" : "bg-accent";
  const open = !bar.until;
  const flag =
    bar.until && (bar.until > now ? `ends ${day(bar.until)}, ${away(bar.until, now)}` : bar.endReason);
  const label = ahead
    ? `starts ${day(bar.from)}`
    : bar.basisKey && bar.basisKey !== bar.target
      ? `${bar.basis} · ${bar.basisKey}`
      : bar.basis;
  return (
    <>
      <span
        title={`${bar.name}: ${day(bar.from)} – ${bar.until ? day(bar.until) : "open"}`}
        className={`absolute top-1 flex h-[18px] items-center overflow-hidden rounded-sm text-dense whitespace-nowrap ${ahead ? "border border-dashed border-info text-info" : `${tone} text-ground`}`}
        style={{
          left,
          width: Math.max(4, right - left),
          maskImage: open && !ahead ? "linear-gradient(to right, black 70%, transparent)" : undefined,
        }}
      >
        {bar.suspended.map((gap) => (
          <span
            key={gap.from.getTime()}
            className="hatched absolute inset-y-0 bg-ground"
            style={{ left: scale(gap.from) - left, width: scale(gap.until ?? until) - scale(gap.from) }}
          />
        ))}
        {right - left > 90 && <span className="relative truncate px-2">{label}</span>}
      </span>
      {flag && (
        <span
          className={`absolute top-1 z-10 border-l-2 bg-ground px-2 text-dense leading-[18px] whitespace-nowrap ${bar.until! > now ? "border-warning text-warning" : "border-muted text-muted"}`}
          style={{ left: right + 1 }}
        >
          {flag}
        </span>
      )}
    </>
  );
}
