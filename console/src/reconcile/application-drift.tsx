import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { may, useNow, useSession } from "../api/session";
import { isOpen, useWork, type Work } from "../api/work";
import { WorkLine } from "../jobs/work-line";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { away, count } from "../parts/moments";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";
import { kinds } from "./kinds";

/** An application's drift: what is open, when it was compared last, and comparing it now. */
export function ApplicationDrift({ application }: { application: string }) {
  const now = useNow();
  const { data: session } = useSession();
  const [begun, setBegun] = useState<string>();
  const { data: work } = useWork(begun);
  const open = useQuery({
    queryKey: ["drift", "open"],
    queryFn: async () => (await data(api.GET("/api/v1/drift/open"))).items,
  });
  const runs = useQuery({
    queryKey: ["reconciles", application],
    queryFn: () => data(api.GET("/api/v1/reconciles", { params: { query: { application, limit: 1 } } })),
  });
  const begin = useMutation({
    mutationFn: () =>
      data<Work>(
        api.POST("/api/v1/applications/{key}/reconcile", { params: { path: { key: application } } }),
      ),
    onSuccess: (started) => setBegun(started.id),
  });
  const here = open.data?.find((each) => each.application === application);
  const last = runs.data?.items[0];
  return (
    <>
      <Heading
        aside={
          last
            ? `compared ${away(last.startedAt, now)}${last.state === "failed" ? ", which failed" : ""}`
            : "never compared"
        }
      >
        Drift
      </Heading>
      {begin.error && <Fault problem={begin.error} />}
      {last?.state === "failed" && <p className="mb-2 text-danger">{last.sentence}</p>}
      {here ? (
        <ul className="flex flex-wrap gap-x-6 gap-y-1">
          {Object.entries(here.byKind).map(([kind, drifts]) => (
            <li key={kind}>
              <Link to={`/drift?application=${application}&kind=${kind}`} className="no-underline">
                <Badge state={kind}>{`${drifts} × ${kinds[kind] ?? kind}`}</Badge>
              </Link>
            </li>
          ))}
        </ul>
      ) : (
        <p className="text-muted">
          {last?.state === "done"
            ? `Nothing differs: ${count(last.accounts, "account", "accounts")} and ${count(last.memberships, "right", "rights")} read.`
            : "What differs from what is expected would stand here."}
        </p>
      )}
      {work && <WorkLine work={work} />}
      {may(session, "reconcile") && (
        <div className="mt-3">
          <Button
            disabled={begin.isPending || (work !== undefined && isOpen(work))}
            onClick={() => begin.mutate()}
          >
            Reconcile now
          </Button>
        </div>
      )}
    </>
  );
}
