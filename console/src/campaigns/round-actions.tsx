import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { count } from "../parts/moments";
import { Fault } from "../parts/states";

type Kind = "extend" | "close" | "drop";

const asks: Record<Kind, string> = { extend: "Extend it", close: "End the judging now", drop: "Give it up" };

/** What those who lead a round do to it. */
export function RoundActions({ shown }: { shown: Schemas["RoundShown"] }) {
  const queries = useQueryClient();
  const id = shown.round.id;
  const [doing, setDoing] = useState<Kind>();
  const [reason, setReason] = useState("");
  const [until, setUntil] = useState("");
  const refresh = () => queries.invalidateQueries({ queryKey: ["rounds"] });
  const remind = useMutation({
    mutationFn: () => data(api.POST("/api/v1/rounds/{id}/remind", { params: { path: { id } } })),
    onSettled: refresh,
  });
  const act = useMutation({
    mutationFn: async (kind: Kind) => {
      const params = { path: { id } };
      if (kind === "extend") {
        await data(api.POST("/api/v1/rounds/{id}/extend", { params, body: { until, reason } }));
        return "";
      }
      if (kind === "close") {
        const ended = await data(api.POST("/api/v1/rounds/{id}/close", { params, body: { reason } }));
        return ended.held;
      }
      await data(api.POST("/api/v1/rounds/{id}/drop", { params, body: { reason } }));
      return "";
    },
    onSuccess: () => setDoing(undefined),
    onSettled: refresh,
  });
  const error = remind.error ?? act.error;
  return (
    <div className="flex flex-col items-end gap-2">
      <div className="flex flex-wrap items-center gap-2">
        {(["pdf", "xlsx", "csv"] as const).map((kind) => (
          <a key={kind} href={`/api/v1/rounds/${id}/report.${kind}`} className="text-dense" download>
            Report {kind.toUpperCase()}
          </a>
        ))}
        {shown.round.state === "open" && (
          <>
            <Button disabled={remind.isPending} onClick={() => remind.mutate()}>
              Remind
            </Button>
            {(["extend", "close", "drop"] as const).map((kind) => (
              <Button
                key={kind}
                kind={kind === "extend" ? "plain" : "danger"}
                onClick={() => setDoing(doing === kind ? undefined : kind)}
              >
                {kind === "extend" ? "Extend" : kind === "close" ? "Close" : "Drop"}
              </Button>
            ))}
          </>
        )}
      </div>
      {remind.data && (
        <p role="status" className="text-dense text-muted">
          {count(remind.data.number, "letter", "letters")} written.
        </p>
      )}
      {doing && (
        <div className="flex flex-wrap items-end gap-2">
          {doing === "extend" && (
            <Field
              label="The last day"
              type="date"
              value={until}
              onChange={(event) => setUntil(event.target.value)}
            />
          )}
          <Field
            label="Why; it is kept"
            value={reason}
            maxLength={1000}
            onChange={(event) => setReason(event.target.value)}
            className="min-w-64"
          />
          <Button
            kind={doing === "extend" ? "primary" : "danger"}
            disabled={!reason.trim() || (doing === "extend" && !until) || act.isPending}
            onClick={() => act.mutate(doing)}
          >
            {asks[doing]}
          </Button>
        </div>
      )}
      {act.data && (
        <p role="status" className="border-l-3 border-warning bg-warning-wash px-4 py-2">
          It takes something from many people, so it waits until somebody else releases it:{" "}
          <Link to={`/held/${act.data}`}>look at what it would do</Link>
        </p>
      )}
      {error && <Fault problem={error} />}
    </div>
  );
}
