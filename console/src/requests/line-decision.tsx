import { useState } from "react";
import type { Schemas } from "../api/client";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { PersonChoice } from "../parts/person-choice";
import { Fault } from "../parts/states";
import { useDecision } from "./use-requests";

/** What can be decided on a line: agree or not at once, the rest one step further. */
export function LineDecision({
  line,
  what,
  inPlaceOf,
  conflicts = [],
}: {
  line: string;
  what: string;
  inPlaceOf?: string;
  /** Those that this decision allows: then it says on what terms. */
  conflicts?: Schemas["Conflicting"][];
}) {
  const [control, setControl] = useState("");
  const [exemptUntil, setExemptUntil] = useState("");
  const [reason, setReason] = useState("");
  const [more, setMore] = useState(false);
  const [until, setUntil] = useState("");
  const decide = useDecision(line);
  const say = (decision: string, rest: { until?: string; to?: string } = {}) =>
    decide.mutate({
      decision,
      reason,
      inPlaceOf,
      control: control || undefined,
      exemptUntil: exemptUntil || undefined,
      ...rest,
    });
  const needsReason =
    (inPlaceOf !== undefined && !reason.trim()) ||
    (conflicts.length > 0 && (!control.trim() || !exemptUntil));
  return (
    <div className="min-w-0">
      {decide.error && (
        <div className="mb-2">
          <Fault problem={decide.error} />
        </div>
      )}
      {conflicts.length > 0 && (
        <div className="mb-3 flex flex-wrap items-end gap-2">
          <Field
            label="What is done in its place"
            list={`controls-${line}`}
            value={control}
            maxLength={1000}
            onChange={(event) => setControl(event.target.value)}
            className="min-w-64 grow"
          />
          <datalist id={`controls-${line}`}>
            {conflicts
              .flatMap((each) => each.controls)
              .map((each) => (
                <option key={each} value={each} />
              ))}
          </datalist>
          <Field
            label="Allowed until"
            type="date"
            value={exemptUntil}
            onChange={(event) => setExemptUntil(event.target.value)}
          />
        </div>
      )}
      <div className="flex flex-wrap items-end gap-2">
        <Field
          label={inPlaceOf === undefined ? "Why; a no needs it" : "Why you, and not they; it is kept"}
          aria-label={`Why, about ${what}`}
          value={reason}
          maxLength={1000}
          onChange={(event) => setReason(event.target.value)}
          className="min-w-40 grow"
        />
        <Button
          kind="primary"
          disabled={decide.isPending || needsReason}
          aria-label={`Approve ${what}`}
          onClick={() => say("approve")}
        >
          {conflicts.length > 0 ? "Allow it" : "Approve"}
        </Button>
        <Button
          kind="danger"
          disabled={decide.isPending || !reason.trim()}
          aria-label={`Decline ${what}`}
          onClick={() => say("decline")}
        >
          Decline
        </Button>
        {inPlaceOf === undefined && (
          <Button aria-expanded={more} onClick={() => setMore(!more)}>
            More
          </Button>
        )}
      </div>
      {more && (
        <div className="mt-3 flex flex-col gap-3 border-l-3 border-rule pl-4">
          <div className="flex flex-wrap items-end gap-2">
            <Field
              label="Wait until"
              type="date"
              value={until}
              onChange={(event) => setUntil(event.target.value)}
            />
            <Button disabled={decide.isPending || !until} onClick={() => say("hold", { until })}>
              Hold
            </Button>
            <Button disabled={decide.isPending || !reason.trim()} onClick={() => say("ask-back")}>
              Ask back
            </Button>
          </div>
          <PersonChoice label="Pass it on to" choose={(to) => say("pass-on", { to })} />
        </div>
      )}
    </div>
  );
}
