import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data } from "../api/client";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { count } from "../parts/moments";
import { Fault } from "../parts/states";

/** Allows conflicts until a day, with what is done in the place of separating the duties. */
export function ExemptForm({
  ids,
  longestDays,
  controls,
  close,
}: {
  ids: string[];
  longestDays: number;
  controls: string[];
  close: () => void;
}) {
  const queries = useQueryClient();
  const [reason, setReason] = useState("");
  const [control, setControl] = useState("");
  const [until, setUntil] = useState("");
  const exempt = useMutation({
    mutationFn: () =>
      data(api.POST("/api/v1/conflicts/exempt", { body: { conflicts: ids, reason, control, until } })),
    onSuccess: (settled) => {
      if (settled.every((each) => each.done)) close();
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ["conflicts"] }),
  });
  const refused = exempt.data?.filter((each) => !each.done) ?? [];
  return (
    <form
      className="mb-4 flex flex-col gap-3 border-l-3 border-warning pl-4"
      onSubmit={(event) => {
        event.preventDefault();
        exempt.mutate();
      }}
    >
      {exempt.error && <Fault problem={exempt.error} />}
      {refused.map((each) => (
        <p key={each.id} className="text-dense text-danger">
          {each.sentence}
        </p>
      ))}
      <div className="flex flex-wrap items-end gap-3">
        <Field
          label="Why it is allowed; it is kept"
          value={reason}
          maxLength={1000}
          onChange={(event) => setReason(event.target.value)}
          className="min-w-64 grow"
        />
        <Field
          label="What is done in the place of separation"
          value={control}
          maxLength={1000}
          list="controls"
          onChange={(event) => setControl(event.target.value)}
          className="min-w-64 grow"
        />
        <datalist id="controls">
          {controls.map((each) => (
            <option key={each} value={each} />
          ))}
        </datalist>
        <Field
          label={`Its last day; ${longestDays} days at most`}
          type="date"
          value={until}
          onChange={(event) => setUntil(event.target.value)}
        />
        <Button
          kind="primary"
          type="submit"
          disabled={!reason.trim() || !control.trim() || !until || exempt.isPending}
        >
          Allow {count(ids.length, "conflict", "conflicts")}
        </Button>
        <Button onClick={close}>Leave it</Button>
      </div>
    </form>
  );
}
