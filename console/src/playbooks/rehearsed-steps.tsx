import type { Schemas } from "../api/client";
import { useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { day, time } from "../parts/moments";

/** What each step would do for one person, and when. */
export function RehearsedSteps({ rehearsal }: { rehearsal: Schemas["PlaybookRehearsal"] }) {
  const zone = useZone();
  return (
    <>
      <p className="mt-4">
        <strong>{rehearsal.name}</strong>{" "}
        <span className="font-mono text-dense text-muted">{rehearsal.worker}</span>
        {!rehearsal.isFor && <span className="text-warning"> — the playbook is not for them</span>}
      </p>
      <ol className="mt-2 border-t border-rule">
        {rehearsal.steps.map((step) => (
          <li
            key={step.number}
            className="grid gap-x-6 gap-y-1 border-b border-rule py-2 md:grid-cols-[2rem_11rem_1fr]"
          >
            <span className="text-dense leading-6 text-muted">{step.number}</span>
            <span className="text-dense leading-6 text-muted">
              {step.due ? `${day(step.due, zone)} ${time(step.due, zone).slice(0, 5)}` : "then"}
            </span>
            <span>
              {!step.good && (
                <>
                  <Badge state="failed">cannot</Badge>{" "}
                </>
              )}
              {step.sentence}
            </span>
          </li>
        ))}
      </ol>
    </>
  );
}
