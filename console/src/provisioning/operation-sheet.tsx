import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useSession, useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { day, time } from "../parts/moments";
import { Pairs, Sheet } from "../parts/sheet";
import { Fault, Waiting } from "../parts/states";
import { Heading } from "../parts/title";

/** One operation's life, and what can be decided about a fault. */
export function OperationSheet({ id, close }: { id: string; close: () => void }) {
  const zone = useZone();
  const { data: session } = useSession();
  const operation = useQuery({
    queryKey: ["operation", id],
    queryFn: () => data(api.GET("/api/v1/operations/{id}", { params: { path: { id } } })),
    refetchInterval: 2_000,
  });
  const at = (moment: string | null | undefined) =>
    moment ? `${day(moment, zone)} ${time(moment, zone)}` : "not yet";
  const shown = operation.data;
  return (
    <Sheet title={shown ? `${shown.kind.replace("-", " ")} ${shown.account}` : "Operation"} close={close}>
      {operation.error && <Fault problem={operation.error} />}
      {!shown && !operation.error && <Waiting what="the operation" />}
      {shown && (
        <>
          <Pairs
            pairs={[
              ["state", <Badge key="state" state={shown.state} />],
              [
                "application",
                <Link key="a" to={`/applications/${shown.application}`}>
                  {shown.application}
                </Link>,
              ],
              [
                "person",
                <Link key="p" to={`/people/${shown.worker}`}>
                  {shown.name}
                </Link>,
              ],
              [
                "cause",
                <span key="c">
                  {shown.because} <span className="font-mono text-dense text-muted">{shown.cause}</span>
                </span>,
              ],
              ["created", at(shown.createdAt)],
              ["first sent", at(shown.sentAt)],
              [
                shown.state === "confirmed" ? "confirmed" : "settled",
                at(shown.settledAt) + (shown.settledBy ? ` by ${shown.settledBy}` : ""),
              ],
              ...(shown.supersededBy
                ? ([
                    [
                      "superseded by",
                      <Link key="by" to={`/operations/${shown.supersededBy}`}>
                        operation {shown.supersededBy}
                      </Link>,
                    ],
                  ] as [string, ReactNode][])
                : []),
              ["tries", shown.attempts],
              ...(shown.reason ? ([["reason", shown.reason]] as [string, string][]) : []),
            ]}
          />
          {["fault", "task"].includes(shown.state) && may(session, "decide-operations") && (
            <Mend operation={shown} />
          )}
          <Heading>What it is to bring about</Heading>
          <pre className="overflow-x-auto bg-muted-wash p-3 font-mono text-dense">
            {JSON.stringify(shown.command, null, 2)}
          </pre>
        </>
      )}
    </Sheet>
  );
}

function Mend({ operation }: { operation: Schemas["Operation"] }) {
  const queries = useQueryClient();
  const [reason, setReason] = useState("");
  const [until, setUntil] = useState("");
  const path = { id: operation.id };
  const decide = useMutation({
    mutationFn: (what: "retry" | "by-hand" | "give-up") => {
      switch (what) {
        case "retry":
          return data(api.POST("/api/v1/operations/{id}/retry", { params: { path } }));
        case "by-hand":
          return data(api.POST("/api/v1/operations/{id}/by-hand", { params: { path }, body: { reason } }));
        case "give-up":
          return data(
            api.POST("/api/v1/operations/{id}/give-up", {
              params: { path },
              body: { reason, until: until || undefined },
            }),
          );
      }
    },
    onSettled: () => queries.invalidateQueries(),
  });
  return (
    <div className="mt-5 border-y border-rule py-4">
      {decide.error && <Fault problem={decide.error} />}
      <Button kind="primary" disabled={decide.isPending} onClick={() => decide.mutate("retry")}>
        Try again
      </Button>
      <p className="mt-1 text-dense text-muted">
        The old order is not sent again: {operation.name} is planned anew, as things are now.
      </p>
      <Field
        label="Or say what was done by hand, or why it need not be done"
        value={reason}
        onChange={(event) => setReason(event.target.value)}
        className="mt-4"
      />
      <Field
        label="Given up until (90 days, if nothing is said)"
        type="date"
        value={until}
        onChange={(event) => setUntil(event.target.value)}
        className="mt-3"
      />
      <div className="mt-2 flex gap-2">
        <Button disabled={decide.isPending || !reason.trim()} onClick={() => decide.mutate("by-hand")}>
          It was done by hand
        </Button>
        <Button
          kind="danger"
          disabled={decide.isPending || !reason.trim()}
          onClick={() => decide.mutate("give-up")}
        >
          Give it up
        </Button>
      </div>
    </div>
  );
}
