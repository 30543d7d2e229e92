import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schemas } from "../api/client";
import { useZone } from "../api/session";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { day } from "../parts/moments";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";

/** What is revoked from a person, whatever would grant it, until the application's owner lifts it. */
export function Revoked({ worker }: { worker: string }) {
  const asked = useQuery({
    queryKey: ["revoked", worker],
    queryFn: () => data(api.GET("/api/v1/people/{worker}/revoked", { params: { path: { worker } } })),
  });
  if (!asked.data || asked.data.length === 0) return null;
  return (
    <>
      <Heading aside="stays revoked whatever would grant it, until somebody lifts it or approves a new request">
        Revoked
      </Heading>
      <ul className="border-t border-rule">
        {asked.data.map((each) => (
          <OneRevoked key={each.id} revoked={each} />
        ))}
      </ul>
    </>
  );
}

function OneRevoked({ revoked }: { revoked: Schemas["RevokedRight"] }) {
  const zone = useZone();
  const queries = useQueryClient();
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState("");
  const release = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/revoked/{id}/release", { params: { path: { id: revoked.id } }, body: { reason } }),
      ),
    onSettled: () => queries.invalidateQueries(),
  });
  return (
    <li className="flex flex-wrap items-end gap-x-5 gap-y-2 border-b border-rule py-2">
      <div className="min-w-64 grow">
        {revoked.name} <span className="text-muted">{revoked.application || "package"}</span>
        <p className="text-dense text-muted">
          {revoked.reason}, by {revoked.by} on {day(revoked.since, zone)}
          {new Date(revoked.from) > new Date(revoked.since) && ` · takes effect ${day(revoked.from, zone)}`}
          {revoked.until && ` · ends ${day(revoked.until, zone)}`}
        </p>
      </div>
      {revoked.releasable && !asking && <Button onClick={() => setAsking(true)}>Lift revocation</Button>}
      {asking && (
        <>
          <Field
            label="Reason (recorded)"
            value={reason}
            maxLength={1000}
            onChange={(event) => setReason(event.target.value)}
            className="min-w-56"
          />
          <Button disabled={!reason.trim() || release.isPending} onClick={() => release.mutate()}>
            Lift revocation
          </Button>
        </>
      )}
      {release.error && <Fault problem={release.error} />}
    </li>
  );
}
