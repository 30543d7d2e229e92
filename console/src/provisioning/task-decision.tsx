import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schemas } from "../api/client";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { count } from "../parts/moments";
import { Fault } from "../parts/states";

/** The decision on what was chosen, with its reason; what could not be decided says why. */
export function TaskDecision({ chosen, decided }: { chosen: Schemas["Operation"][]; decided: () => void }) {
  const queries = useQueryClient();
  const [reason, setReason] = useState("");
  const [until, setUntil] = useState("");
  const decide = useMutation({
    mutationFn: (decision: "retry" | "by-hand" | "give-up") =>
      data(
        api.POST("/api/v1/operations/decide", {
          body: {
            operations: chosen.map((each) => each.id),
            decision,
            reason,
            until: (decision === "give-up" && until) || undefined,
          },
        }),
      ),
    onSuccess: (result) => result.left.length === 0 && decided(),
    onSettled: () => queries.invalidateQueries(),
  });
  const none = chosen.length === 0 || decide.isPending;
  const unsaid = none || !reason.trim();
  const faults = chosen.filter((each) => each.state === "fault").length;
  return (
    <div className="mb-3 border-y border-rule py-3">
      {decide.error && <Fault problem={decide.error} />}
      {decide.data?.left.map((left) => (
        <p key={left.operation} className="text-danger">
          {left.sentence}
        </p>
      ))}
      <div className="flex flex-wrap items-end gap-3">
        <Field
          label={
            chosen.length === 0
              ? "Choose some, and say what was done, or why it need not be"
              : `What was done, or why it need not be (${count(chosen.length, "chosen", "chosen")})`
          }
          className="min-w-72 grow"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
        <Button kind="primary" disabled={unsaid} onClick={() => decide.mutate("by-hand")}>
          Done by hand
        </Button>
        <Button disabled={none || faults === 0} onClick={() => decide.mutate("retry")}>
          Try again
        </Button>
        <Field
          label="Given up until"
          type="date"
          value={until}
          onChange={(event) => setUntil(event.target.value)}
        />
        <Button kind="danger" disabled={unsaid} onClick={() => decide.mutate("give-up")}>
          Give up
        </Button>
      </div>
    </div>
  );
}
