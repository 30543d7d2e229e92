import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, data } from "../api/client";
import { may, useSession } from "../api/session";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { Fault } from "../parts/states";

/** Plays a playbook that begins on demand for the person it was rehearsed on. */
export function Play({ playbook, worker }: { playbook: string; worker: string }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { data: session } = useSession();
  const [reason, setReason] = useState("");
  const play = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/playbooks/{key}/runs", {
          params: { path: { key: playbook } },
          body: { workers: [worker], reason },
        }),
      ),
    onSuccess: (played) => {
      void queries.invalidateQueries();
      if (played.runs[0]) void navigate(`/playbooks/runs/${played.runs[0]}`);
    },
  });
  if (!may(session, "play-playbooks")) return null;
  return (
    <div className="mt-4 flex max-w-3xl flex-wrap items-end gap-3">
      {play.error && <Fault problem={play.error} />}
      <Field
        label="Why; it is kept"
        value={reason}
        onChange={(event) => setReason(event.target.value)}
        className="min-w-64 grow"
      />
      <Button kind="primary" disabled={play.isPending || !reason.trim()} onClick={() => play.mutate()}>
        Play it for them
      </Button>
    </div>
  );
}
