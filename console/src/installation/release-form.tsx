import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data } from "../api/client";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";

/** Releases a quiet installation, with or without the messages that wait, or makes one quiet. */
export function ReleaseForm({ quiet }: { quiet: boolean }) {
  const queries = useQueryClient();
  const [reason, setReason] = useState("");
  const [drop, setDrop] = useState(true);
  const change = useMutation({
    mutationFn: () =>
      quiet
        ? data(
            api.POST("/api/v1/installation/release", {
              body: { reason, messages: drop ? "drop" : "send" },
            }),
          )
        : data(api.POST("/api/v1/installation/quiet", { body: { reason } })),
    onSuccess: () => setReason(""),
    onSettled: () => queries.invalidateQueries(),
  });
  return (
    <>
      <Heading>{quiet ? "Release it" : "Make it quiet"}</Heading>
      <p className="max-w-prose text-dense text-muted">
        {quiet
          ? "Reconcile the applications first: then what is sent follows from what they have now."
          : "Nothing is sent to any application, over any channel or by mail until somebody releases it. People can go on working here."}
      </p>
      {quiet && (
        <label className="mt-2 flex items-center gap-2">
          <input type="checkbox" checked={drop} onChange={(event) => setDrop(event.target.checked)} />
          Drop the messages that wait; the original of a restored database has probably sent them
        </label>
      )}
      <div className="mt-2 flex max-w-prose items-end gap-3">
        <Field
          label="Reason (recorded)"
          value={reason}
          maxLength={1000}
          onChange={(event) => setReason(event.target.value)}
          className="grow"
        />
        <Button disabled={!reason.trim() || change.isPending} onClick={() => change.mutate()}>
          {quiet ? "Release" : "Make quiet"}
        </Button>
      </div>
      {change.error && <Fault problem={change.error} />}
    </>
  );
}
