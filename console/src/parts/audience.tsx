import { count } from "./moments";

/** For how many something is that is being written, as people are now. */
export function Audience({
  draft,
  good,
}: {
  draft: { people: number; of: number; unanswered: number };
  good: boolean;
}) {
  return (
    <p role="status" className={good ? "" : "opacity-60"}>
      <strong>{draft.people.toLocaleString("en-GB")}</strong> of {count(draft.of, "person", "people")}
      {draft.people === 0 && <span className="text-warning">; that is nobody</span>}
      {draft.people === draft.of && <span className="text-warning">; that is everybody</span>}
      {draft.unanswered > 0 && (
        <span className="text-warning">
          ; it cannot be answered for {count(draft.unanswered, "person", "people")}
        </span>
      )}
    </p>
  );
}
