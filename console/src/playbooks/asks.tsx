import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useNow, useSession } from "../api/session";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { away } from "../parts/moments";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";

type Ask = Schemas["AskShown"];

/** What runs of playbooks ask whoever is signed in. */
export function useAsks() {
  return useQuery({
    queryKey: ["asks"],
    queryFn: () => data(api.GET("/api/v1/asks", { params: { query: { limit: 50 } } })),
    refetchInterval: 15_000,
  });
}

/** Those questions, each to be answered in place; nothing where there are none. */
export function Asks() {
  const { data: asks } = useAsks();
  if (!asks || asks.items.length === 0) return null;
  return (
    <>
      <Heading aside="a no ends what was under way">You are asked</Heading>
      <ul className="border-t border-rule">
        {asks.items.map((ask) => (
          <Question key={ask.id} ask={ask} />
        ))}
      </ul>
    </>
  );
}

function Question({ ask }: { ask: Ask }) {
  const queries = useQueryClient();
  const now = useNow();
  const { data: session } = useSession();
  const [reason, setReason] = useState("");
  const answer = useMutation({
    mutationFn: (yes: boolean) =>
      data(api.POST("/api/v1/asks/{id}/answer", { params: { path: { id: ask.id } }, body: { yes, reason } })),
    onSettled: () => queries.invalidateQueries(),
  });
  return (
    <li className="border-b border-rule py-3">
      {answer.error && <Fault problem={answer.error} />}
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
        <div className="min-w-64 grow">
          <Badge state="waiting">{`lapses ${away(ask.lapsesAt, now)}`}</Badge>
          <p className="mt-1 font-bold">{ask.question}</p>
          <p className="text-dense text-muted">
            {ask.playbook} for {ask.person}
            {may(session, "see-playbooks") && (
              <>
                {" "}
                · <Link to={`/playbooks/runs/${ask.run}`}>look at the run</Link>
              </>
            )}
          </p>
        </div>
        <Field
          label="Why; needed for a no"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          className="min-w-56 grow"
        />
        <Button kind="primary" disabled={answer.isPending} onClick={() => answer.mutate(true)}>
          Yes
        </Button>
        <Button disabled={answer.isPending || !reason.trim()} onClick={() => answer.mutate(false)}>
          No
        </Button>
      </div>
    </li>
  );
}
