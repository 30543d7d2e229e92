import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schemas } from "../api/client";
import { may, useSession } from "../api/session";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { Fault } from "../parts/states";

type Drift = Schemas["DriftShown"];
type Said = { reason: string; until: string; worker: string };

const decisions = {
  repair: (id: string, { reason }: Said) =>
    data<unknown>(api.POST("/api/v1/drift/repair", { body: { drift: [id], reason } })),
  adopt: (id: string, { reason }: Said) =>
    data<unknown>(api.POST("/api/v1/drift/adopt", { body: { drift: [id], reason } })),
  accept: (id: string, { reason, until }: Said) =>
    data<unknown>(
      api.POST("/api/v1/drift/{id}/accept", {
        params: { path: { id } },
        body: { reason, until: until || undefined },
      }),
    ),
  attach: (id: string, { reason, worker }: Said) =>
    data<unknown>(
      api.POST("/api/v1/drift/{id}/attach", { params: { path: { id } }, body: { worker, reason } }),
    ),
  declare: (id: string, { reason, worker, until }: Said) =>
    data<unknown>(
      api.POST("/api/v1/drift/{id}/declare", {
        params: { path: { id } },
        body: { owner: worker, purpose: reason, until: until || undefined },
      }),
    ),
  remove: (id: string, { reason }: Said) =>
    data<unknown>(api.POST("/api/v1/drift/{id}/remove", { params: { path: { id } }, body: { reason } })),
};

/** What can be decided on a difference, each with a reason. */
export function DriftDecision({ drift }: { drift: Drift }) {
  const queries = useQueryClient();
  const { data: session } = useSession();
  const [said, setSaid] = useState<Said>({ reason: "", until: "", worker: "" });
  const [sure, setSure] = useState(false);
  const decide = useMutation({
    mutationFn: (what: keyof typeof decisions) => decisions[what](drift.id, said),
    onSettled: () => queries.invalidateQueries(),
  });
  if (!may(session, "decide-drift")) return null;
  const stray = drift.kind === "stray-account";
  const field = (key: keyof Said) => ({
    value: said[key],
    onChange: (event: { target: { value: string } }) => setSaid({ ...said, [key]: event.target.value }),
  });
  const blocked = decide.isPending || !said.reason.trim();
  return (
    <div className="mt-5 border-y border-rule py-4">
      {decide.error && <Fault problem={decide.error} />}
      <Field label={stray ? "Why, or what it is for" : "Why"} {...field("reason")} />
      {stray && (
        <Field
          label="Worker number of whose it is, or of who answers for it"
          className="mt-3"
          {...field("worker")}
        />
      )}
      <Field
        label={`${stray ? "Declared" : "Accepted"} until (90 days, if nothing is said)`}
        type="date"
        className="mt-3"
        {...field("until")}
      />
      <div className="mt-3 flex flex-wrap gap-2">
        {!stray && (
          <Button kind="primary" disabled={blocked} onClick={() => decide.mutate("repair")}>
            Repair: make it as it should be
          </Button>
        )}
        {drift.kind === "extra-entitlement" && (
          <Button disabled={blocked} onClick={() => decide.mutate("adopt")}>
            Adopt: they may have it
          </Button>
        )}
        {!stray && (
          <Button disabled={blocked} onClick={() => decide.mutate("accept")}>
            Accept for a while
          </Button>
        )}
        {stray && (
          <>
            <Button
              kind="primary"
              disabled={blocked || !said.worker.trim()}
              onClick={() => decide.mutate("attach")}
            >
              It is theirs
            </Button>
            <Button disabled={blocked || !said.worker.trim()} onClick={() => decide.mutate("declare")}>
              Declare a service account
            </Button>
            <Button
              kind="danger"
              disabled={blocked}
              onClick={() => (sure ? decide.mutate("remove") : setSure(true))}
            >
              {sure ? "Really delete it" : "Delete it"}
            </Button>
          </>
        )}
      </div>
    </div>
  );
}
