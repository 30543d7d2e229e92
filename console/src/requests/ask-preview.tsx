import type { Schemas } from "../api/client";
import { useZone } from "../api/session";
import { count, day } from "../parts/moments";
import { decidersOf } from "./words";

/** What would come of an ask: what it opens and until when, and who decides, in order. */
export function AskPreview({ line }: { line: Schemas["PreviewLine"] }) {
  const zone = useZone();
  return (
    <section aria-label="What would come of it" className="border-l-3 border-info pl-5">
      <p className="text-lead">
        {line.subject.name} would have it from {day(line.startsAt, zone)}
        {line.endsAt ? ` to ${day(line.endsAt, zone)}` : ", with no end"}.
      </p>
      <ul className="mt-2">
        {line.gives.map((each) => (
          <li key={each.entitlement}>
            {each.name} <span className="text-muted">in {each.application}</span>
            {each.risk !== "usual" && each.risk !== "low" && (
              <span className="ml-2 text-dense text-warning">{each.risk} risk</span>
            )}
          </li>
        ))}
      </ul>
      <h2 className="mt-4 mb-1 font-bold">Who decides</h2>
      <ol className="border-t border-rule">
        {line.stages.map((stage, index) => (
          <li key={index} className="grid grid-cols-[1.5rem_1fr] border-b border-rule py-1.5">
            <span className="text-dense leading-6 text-muted">{stage.beside ? "+" : index + 1}</span>
            <span>
              {stage.who.map((each) => each.name).join(stage.agree === "all" ? " and " : " or ") || "nobody"}
              <span className="block text-dense text-muted">
                {decidersOf(stage.ask, stage.agree)}
                {stage.note ? ` · ${stage.note}` : ` · within ${count(stage.lapseDays, "day", "days")}`}
              </span>
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
