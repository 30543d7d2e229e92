import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schemas } from "../api/client";
import { may, useSession } from "../api/session";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { Fault } from "../parts/states";

type Verb = "hold" | "release" | "again" | "skip" | "end";

const verbs: Record<string, [Verb, string][]> = {
  open: [
    ["hold", "Hold"],
    ["skip", "Skip this step"],
    ["end", "End the run"],
  ],
  held: [
    ["release", "Let it go on"],
    ["skip", "Skip this step"],
    ["end", "End the run"],
  ],
  stopped: [
    ["again", "Try the step again"],
    ["skip", "Skip this step"],
    ["end", "End the run"],
  ],
};

/** What can be decided on a run that is not over; a reason is kept with it. */
export function RunDecision({ shown, queryKey }: { shown: Schemas["RunShown"]; queryKey: string[] }) {
  const queries = useQueryClient();
  const { data: session } = useSession();
  const [reason, setReason] = useState("");
  const decide = useMutation({
    mutationFn: (verb: Verb) => {
      const options = { params: { path: { id: shown.run.id } }, body: { reason } };
      switch (verb) {
        case "hold":
          return data(api.POST("/api/v1/runs/{id}/hold", options));
        case "release":
          return data(api.POST("/api/v1/runs/{id}/release", options));
        case "again":
          return data(api.POST("/api/v1/runs/{id}/again", options));
        case "skip":
          return data(api.POST("/api/v1/runs/{id}/skip", options));
        default:
          return data(api.POST("/api/v1/runs/{id}/end", options));
      }
    },
    onSuccess: (after) => {
      setReason("");
      queries.setQueryData(queryKey, after);
    },
    onSettled: () => queries.invalidateQueries(),
  });
  const choices = verbs[shown.run.state];
  if (!choices || !may(session, "play-playbooks")) return null;
  return (
    <div className="mt-4 border-y border-rule py-4">
      {decide.error && (
        <div className="mb-3">
          <Fault problem={decide.error} />
        </div>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <Field
          label="Why; it is kept"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          className="min-w-64 max-w-xl grow"
        />
        {choices.map(([verb, words]) => (
          <Button
            key={verb}
            kind={verb === "end" ? "danger" : "plain"}
            disabled={decide.isPending || !reason.trim()}
            onClick={() => decide.mutate(verb)}
          >
            {words}
          </Button>
        ))}
      </div>
    </div>
  );
}
