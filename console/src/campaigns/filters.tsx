import { useState } from "react";
import { Button } from "../parts/button";
import { Choice } from "../parts/choice";
import { Field } from "../parts/field";
import { count } from "../parts/moments";
import type { Judging } from "./use-judging";
import type { Item } from "./use-reviews";
import { useApplications } from "../applications/use-applications";
import { may, useSession } from "../api/session";

/** Beneath what items stand: whose they are, what they are, or the application that they are in. */
export type By = "person" | "target" | "application";

export type Found = { state: string; suggestion: string; application: string; by: By };

/** Which items are seen; and what is seen can be decided at once. */
export function Filters({
  found,
  change,
  mine,
  items,
  judging,
}: {
  found: Found;
  change: (changed: Partial<Found>) => void;
  mine: boolean;
  items: Item[];
  judging: Judging;
}) {
  const { data: session } = useSession();
  const { data: named = [] } = useApplications({ enabled: may(session, "see-applications") });
  const [deciding, setDeciding] = useState<"keep" | "revoke">();
  const [reason, setReason] = useState("");
  const applications = [...new Map(items.map((each) => [each.application, each.applicationName])).entries()]
    .filter(([key]) => key)
    .map(([value, text]) => ({ value, text: text || value }));
  // Once one is chosen, the list shows only its own: the others are named by who sees applications.
  const others = found.application
    ? named
        .filter((each) => each.key !== found.application)
        .map((each) => ({ value: each.key, text: each.name }))
    : [];
  const all = [...applications, ...others];
  const some = found.suggestion || found.application;
  const undecided = items.filter((each) => each.state === "undecided").length;
  const decide = () => {
    if (!deciding) return;
    judging.decideFound(
      { suggestion: found.suggestion || undefined, application: found.application || undefined },
      deciding,
      reason,
    );
    setDeciding(undefined);
    setReason("");
  };
  return (
    <div className="mt-4">
      <div className="flex flex-wrap items-center gap-3">
        <Choice
          label="How far"
          all="All of them"
          value={found.state}
          options={[
            { value: "undecided", text: "Undecided" },
            { value: "decided", text: "Decided" },
            { value: "ended", text: "Ended by themselves" },
          ]}
          onChange={(state) => change({ state })}
        />
        <Choice
          label="What the record suggests"
          all="Whatever is suggested"
          value={found.suggestion}
          options={[
            { value: "keep", text: "Keep" },
            { value: "look", text: "Look closely" },
            { value: "revoke", text: "Revoke" },
          ]}
          onChange={(suggestion) => change({ suggestion })}
        />
        {(all.length > 1 || found.application) && (
          <Choice
            label="Application"
            all="All applications"
            value={found.application}
            options={all}
            onChange={(application) => change({ application })}
          />
        )}
        {mine && some && undecided > 0 && (
          <>
            <Button onClick={() => setDeciding("keep")}>Keep all undecided here</Button>
            <Button kind="danger" onClick={() => setDeciding("revoke")}>
              Revoke all undecided here
            </Button>
          </>
        )}
      </div>
      {deciding && (
        <div className="mt-3 flex flex-wrap items-end gap-3 border-l-3 border-accent pl-4">
          <Field
            label={deciding === "keep" ? "Why they are needed" : "Why they are not needed"}
            value={reason}
            maxLength={1000}
            onChange={(event) => setReason(event.target.value)}
            className="min-w-64 grow"
          />
          <Button
            kind={deciding === "keep" ? "primary" : "danger"}
            disabled={!reason.trim()}
            onClick={decide}
          >
            {deciding === "keep" ? "Keep them" : "Revoke them"}
          </Button>
          <Button onClick={() => setDeciding(undefined)}>Leave it</Button>
          {deciding === "keep" && (
            <p className="w-full text-dense text-muted">
              What is privileged, idle or in conflict is left until you have opened it.
            </p>
          )}
        </div>
      )}
      {Object.entries(judging.left).map(([sentence, number]) => (
        <p key={sentence} className="mt-2 text-dense text-warning" role="status">
          {count(number, "item was", "items were")} left: {sentence}
        </p>
      ))}
    </div>
  );
}
