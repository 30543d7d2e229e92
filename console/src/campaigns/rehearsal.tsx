import type { Schemas } from "../api/client";
import { count } from "../parts/moments";

/** What a round would ask of whom. */
export function RehearsalOf({ rehearsal }: { rehearsal: Schemas["CampaignRehearsal"] }) {
  const most = Math.max(1, ...rehearsal.loads.map((each) => each.items));
  return (
    <section aria-label="Rehearsal" className="mt-3 border-l-3 border-info pl-4">
      <p>
        {count(rehearsal.items, "item", "items")} of {count(rehearsal.people, "person", "people")}, for{" "}
        {count(rehearsal.reviewers, "reviewer", "reviewers")}; {count(rehearsal.careful, "asks", "ask")} for a
        close look.
      </p>
      {rehearsal.warnings.map((each) => (
        <p key={each} className="mt-1 text-warning">
          {each}
        </p>
      ))}
      <ul className="mt-2 max-h-72 overflow-auto" aria-label="How heavy for whom" tabIndex={0}>
        {rehearsal.loads.map((each) => (
          <li key={each.reviewer} className="grid grid-cols-[14rem_1fr_4rem] items-center gap-3 text-dense">
            <span className="truncate">{each.reviewer}</span>
            <span className="flex h-2 bg-rule" aria-hidden>
              <span className="bg-warning" style={{ width: `${(each.careful / most) * 100}%` }} />
              <span
                className="bg-muted"
                style={{ width: `${((each.items - each.careful) / most) * 100}%` }}
              />
            </span>
            <span className="text-right">{each.items}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
