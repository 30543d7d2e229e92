import { CircleX } from "lucide-react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { away, count, day, took } from "../parts/moments";

/** One event on its way, as far as it has come. */
export function FlowLine({ event, now, zone }: { event: Schemas["Event"]; now: Date; zone: string }) {
  const { operations, confirmed, faults, sent } = event;
  const planned = event.plannedAt != null;
  const ahead = !event.effectiveOn || Date.parse(`${event.effectiveOn}T00:00:00Z`) > now.getTime();
  const nothing = planned && operations === 0 && !ahead;
  const done = planned && confirmed === operations && !ahead;
  const reach = done ? 100 : faults > 0 ? 68 : sent > 0 ? 66 : planned ? 30 : 1;
  const tone = faults > 0 ? "bg-danger" : nothing ? "bg-muted" : done ? "bg-success" : "bg-info";
  const text = faults > 0 ? "text-danger" : nothing ? "text-muted" : done ? "text-success" : "text-info";
  return (
    <li className="relative grid grid-cols-[minmax(12rem,300px)_1fr] border-l-0">
      <div className="truncate py-2 pr-3">
        <Link to={`/people/${event.worker}`} className="font-bold no-underline hover:underline">
          {event.name}
        </Link>{" "}
        <span className="text-dense text-muted">{event.subtitle}</span>
      </div>
      <div className="relative h-9">
        <span className={`absolute top-6 left-0 h-[3px] ${tone}`} style={{ width: `${reach}%` }} />
        <span className={`absolute top-[21px] -left-1 size-[9px] rounded-full ${tone}`} />
        <span
          className={`absolute top-1 left-2 max-w-[28%] truncate text-dense ${text}`}
          title={detected(event, zone)}
        >
          {detected(event, zone)}
        </span>
        {planned && (operations > 0 || nothing) && (
          <span className="absolute top-1 left-[31%] text-dense text-muted">
            {nothing ? "no access touched" : count(operations, "operation", "operations")}
          </span>
        )}
        {faults > 0 && (
          <span className="absolute top-[15px] left-[67%] flex max-w-[33%] items-center gap-2 bg-ground text-dense text-danger">
            <CircleX size={18} className="shrink-0" aria-label="fault" />
            <span className="truncate" title={event.waitingFor ?? ""}>
              {event.waitingFor}
            </span>
          </span>
        )}
        {faults === 0 && !done && planned && (
          <span
            className="absolute top-4 truncate pl-2 text-dense text-warning"
            style={{ left: `${reach}%`, maxWidth: `${100 - reach}%` }}
          >
            {waiting(event, ahead, now)}
          </span>
        )}
        {done && (
          <span className={`absolute top-1 right-2 text-dense ${text}`}>
            {nothing ? "done" : `${confirmed} confirmed${speed(event)}`}
          </span>
        )}
      </div>
    </li>
  );
}

function detected(event: Schemas["Event"], zone: string): string {
  const kind = event.kind.replace("-", " ");
  if (!event.effectiveOn) return `${kind}, once agreed to`;
  const later = event.effectiveOn > event.detectedAt.slice(0, 10);
  return later ? `${kind} ${day(event.effectiveOn)}` : `${kind}, ${day(event.detectedAt, zone)}`;
}

function waiting(event: Schemas["Event"], ahead: boolean, now: Date): string {
  if (event.waitingFor) return event.waitingFor;
  if (event.confirmed < event.operations) return `${event.confirmed} of ${event.operations} confirmed`;
  if (!event.effectiveOn) return "waits until somebody agrees";
  return ahead
    ? `${event.kind === "joiner" ? "enabled" : "takes effect"} ${away(event.effectiveOn, now)}`
    : "";
}

function speed(event: Schemas["Event"]): string {
  const atOnce = !!event.effectiveOn && event.effectiveOn <= event.detectedAt.slice(0, 10);
  return event.confirmedAt && atOnce ? ` in ${took(event.detectedAt, event.confirmedAt)}` : "";
}
