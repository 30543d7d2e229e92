import { scaleTime } from "@visx/scale";
import type { Schemas } from "../api/client";
import { stateTone } from "../parts/badge";
import { day, time } from "../parts/moments";
import { useWidth } from "../parts/use-width";
import { stepTitle } from "./words";

type Step = Schemas["RunStepShown"];

const NAMES = 300;
const EDGE = 24;
const DAY = 86_400_000;
const fills: Record<string, string> = {
  success: "bg-success border-success",
  danger: "bg-danger border-danger",
  warning: "bg-warning border-warning",
  muted: "bg-ground border-muted",
  info: "bg-ground border-info",
};

/** Where each step stands in time: when it was settled, else when it is due, else with the one before. */
function moments(steps: Step[], began: Date): Date[] {
  let last = began;
  return steps.map((step) => {
    const at = step.settledAt ?? step.due;
    last = at ? new Date(Math.max(Date.parse(at), last.getTime())) : last;
    return last;
  });
}

/** A run from left to right: a mark a step, and now as the one thin rule. */
export function RunLine({ run, now, zone }: { run: Schemas["RunShown"]; now: Date; zone: string }) {
  const { box, width } = useWidth();
  const began = new Date(run.run.beganAt);
  const at = moments(run.steps, began);
  const over = run.run.state === "done" || run.run.state === "ended";
  const end = new Date(Math.max(at.at(-1)?.getTime() ?? 0, over ? 0 : now.getTime(), began.getTime() + DAY));
  const scale = scaleTime({ domain: [began, end], range: [NAMES, Math.max(width, 560) - EDGE] });
  const today = now >= began && now <= end ? scale(now) : null;
  return (
    <div ref={box} className="relative mt-4 pb-8 max-md:hidden">
      <div className="flex justify-between text-dense text-muted" style={{ paddingLeft: NAMES }} aria-hidden>
        <span>{day(began, zone)}</span>
        <span>{day(end, zone)}</span>
      </div>
      <ol className="border-t border-rule">
        {run.steps.map((step, index) => (
          <li key={step.number} className="relative h-9 border-b border-rule">
            <span className="absolute inset-y-0 left-0 truncate leading-9" style={{ width: NAMES - 16 }}>
              <span className="inline-block w-6 text-dense text-muted">{step.number}</span>
              {stepTitle(step.said)}
            </span>
            <span
              className="absolute top-1/2 h-px bg-rule"
              style={{ left: NAMES, width: Math.max(0, scale(at[index]!) - NAMES) }}
              aria-hidden
            />
            <span
              className={`absolute top-1/2 size-3 -translate-x-1/2 -translate-y-1/2 rounded-full border-2 ${fills[stateTone(step.state)] ?? fills.info}`}
              style={{ left: scale(at[index]!) }}
              title={`${step.state.replace("-", " ")}: ${day(at[index]!, zone)} ${time(at[index]!, zone)}`}
            />
          </li>
        ))}
      </ol>
      {today !== null && (
        <>
          <div
            className="pointer-events-none absolute top-5 bottom-6 w-0.5 bg-ink"
            style={{ left: today }}
            aria-hidden
          />
          <div
            className="absolute bottom-0 -translate-x-1/2 rounded-sm bg-ink px-2 text-dense whitespace-nowrap text-ground"
            style={{ left: Math.min(today, Math.max(width, 560) - 46) }}
          >
            {day(now, zone)}
          </div>
        </>
      )}
    </div>
  );
}
