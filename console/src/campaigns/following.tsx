import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { day } from "../parts/moments";
import { PersonChoice } from "../parts/person-choice";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";

type Item = Schemas["ItemShown"];

/** What was revoked and is not over: announced, not confirmed, or somebody's to see to. */
export function Following({ shown }: { shown: Schemas["RoundShown"] }) {
  if (shown.following.length === 0) return null;
  return (
    <>
      <Heading aside="the round closes once each is gone, or somebody's by name to see to">
        Not gone yet
      </Heading>
      <ul className="border-t border-rule">
        {shown.following.map((item) => (
          <OneItem key={item.id} item={item} leads={shown.leads} />
        ))}
      </ul>
    </>
  );
}

function OneItem({ item, leads }: { item: Item; leads: boolean }) {
  const zone = useZone();
  const queries = useQueryClient();
  const [handing, setHanding] = useState(false);
  const [reason, setReason] = useState("");
  const refresh = () => queries.invalidateQueries({ queryKey: ["rounds"] });
  const hand = useMutation({
    mutationFn: (worker: string) =>
      data(
        api.POST("/api/v1/items/{id}/hand", { params: { path: { id: item.id } }, body: { worker, reason } }),
      ),
    onSettled: refresh,
  });
  const settle = useMutation({
    mutationFn: (judgement: string) =>
      data(
        api.POST("/api/v1/items/{id}/settle", {
          params: { path: { id: item.id } },
          body: { judgement, reason },
        }),
      ),
    onSettled: refresh,
  });
  const error = hand.error ?? settle.error;
  const answered = item.state === "announced" && item.answer !== "";
  return (
    <li className="border-b border-rule py-2">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1">
        <span className="min-w-64 grow">
          {item.name} <span className="text-muted">of</span>{" "}
          {item.worker ? <Link to={`/people/${item.worker}`}>{item.person}</Link> : item.account}
          <span className="text-dense text-muted"> {item.applicationName}</span>
        </span>
        <span className="text-dense text-muted">
          {item.state === "announced" && item.actsAt && !item.answer && `goes on ${day(item.actsAt, zone)}`}
          {item.state === "removing" && "taken; the application has not confirmed it yet"}
          {item.state === "handed" && `${item.handedTo} sees to it`}
          {item.note && ` · ${item.note}`}
        </span>
        <Badge state={item.state} />
        {leads && (answered || item.state === "removing") && (
          <Button onClick={() => setHanding(!handing)}>{answered ? "Answer it" : "Hand to"}</Button>
        )}
      </div>
      {item.answer && <p className="text-dense text-warning">Its holder says: {item.answer}</p>}
      {handing && (
        <div className="mt-2 flex flex-wrap items-end gap-3 border-l-3 border-accent pl-4">
          <Field
            label="Why; it is kept"
            value={reason}
            maxLength={1000}
            onChange={(event) => setReason(event.target.value)}
            className="min-w-64 grow"
          />
          {answered ? (
            <>
              <Button disabled={!reason.trim()} onClick={() => settle.mutate("keep")}>
                It stays
              </Button>
              <Button kind="danger" disabled={!reason.trim()} onClick={() => settle.mutate("revoke")}>
                It goes now
              </Button>
            </>
          ) : (
            reason.trim() && <PersonChoice label="Who sees to it" choose={(worker) => hand.mutate(worker)} />
          )}
        </div>
      )}
      {error && <Fault problem={error} />}
    </li>
  );
}
