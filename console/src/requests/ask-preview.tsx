import type { Schemas } from "../api/client";
import { useZone } from "../api/session";
import { day, lastDay } from "../parts/moments";
import { PreviewStages } from "./preview-stages";

/** What would come of an ask: what it opens and until when, and who decides, in order. */
export function AskPreview({ line }: { line: Schemas["PreviewLine"] }) {
  const zone = useZone();
  return (
    <section aria-label="What would come of it" className="border-l-3 border-info pl-5">
      <p className="text-lead">
        {line.kind === "remove"
          ? `${line.subject.name} would have it no longer${line.endsAt ? ` after ${lastDay(line.endsAt, zone)}` : ""}.`
          : `${line.subject.name} would have it from ${day(line.startsAt, zone)}${
              line.endsAt ? ` to ${lastDay(line.endsAt, zone)}` : ", with no end"
            }.`}
      </p>
      <ul className="mt-2">
        {line.gives.map((each) => (
          <li key={each.entitlement}>
            {each.name} <span className="text-muted">{each.application}</span>
            {each.risk !== "usual" && each.risk !== "low" && (
              <span className="ml-2 text-dense text-warning">{each.risk} risk</span>
            )}
          </li>
        ))}
      </ul>
      <SeatsLeft seats={line.seats} />
      {line.conflicts.map((each) => (
        <div key={each.rule} className="mt-3 border-l-3 border-danger bg-danger-wash px-4 py-2">
          <p>
            <span className="font-bold">{each.name}</span> — {each.risk}
          </p>
          <p className="text-dense">
            {line.subject.name} would hold both. Ask for something else, or say why it has to be: whoever
            answers for the risk is asked as well.
          </p>
        </div>
      ))}
      <h2 className="mt-4 mb-1 font-bold">Who decides</h2>
      <PreviewStages stages={line.stages} />
    </section>
  );
}

/** How many seats are left where somebody would take one; nothing where none is counted. */
export function SeatsLeft({ seats }: { seats: Schemas["SeatsLeft"][] }) {
  const taken = seats.filter((each) => each.takes);
  if (taken.length === 0) return null;
  return (
    <ul className="mt-2">
      {taken.map((each) => (
        <li
          key={each.application}
          className={`text-dense ${each.free === 0 ? "text-warning" : "text-muted"}`}
        >
          {each.free === 0
            ? `${each.name} has no free seat: all ${each.seats} are taken.`
            : `It takes a seat in ${each.name}: ${each.free} of ${each.seats} are free.`}
        </li>
      ))}
    </ul>
  );
}
