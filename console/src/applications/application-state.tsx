import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useNow, useSession, useZone } from "../api/session";
import { Button } from "../parts/button";
import { away, count, day } from "../parts/moments";
import { usePages } from "../api/pages";
import { More } from "../parts/more";
import { Fault } from "../parts/states";
import { Heading } from "../parts/title";
import { HealthTime } from "./health-time";
import { ApplicationDrift } from "../reconcile/application-drift";

/** How an application is: its health, a test of its connector, its drift and its faults. */
export function ApplicationState({ application }: { application: Schemas["Summary"] }) {
  const now = useNow();
  const queries = useQueryClient();
  const { data: session } = useSession();
  const test = useMutation({
    mutationFn: () =>
      data(api.POST("/api/v1/applications/{key}/test", { params: { path: { key: application.key } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["applications"] }),
  });
  const retry = useMutation({
    mutationFn: () =>
      data(api.POST("/api/v1/operations/retry", { params: { query: { application: application.key } } })),
    onSettled: () => queries.invalidateQueries(),
  });
  const faults = useQuery({
    queryKey: ["faults", application.key],
    queryFn: () =>
      data(
        api.GET("/api/v1/operations", {
          params: { query: { application: application.key, state: "fault", limit: 50 } },
        }),
      ),
    refetchInterval: 5_000,
  });
  return (
    <>
      <p className="text-muted">
        {application.since ? `${application.health} since ${away(application.since, now)}` : "not asked yet"}
        {application.waiting > 0 && (
          <>
            {", "}
            <Link to={`/operations?application=${application.key}&state=waiting`}>
              {count(application.waiting, "operation waits", "operations wait")}
            </Link>
          </>
        )}
      </p>
      <div className="mt-3 flex gap-2">
        <Button kind="primary" disabled={test.isPending} onClick={() => test.mutate()}>
          {test.isPending ? "Testing" : "Test the connector"}
        </Button>
        {may(session, "decide-operations") && application.faults > 0 && (
          <Button disabled={retry.isPending} onClick={() => retry.mutate()}>
            Try {count(application.faults, "fault", "faults")} again
          </Button>
        )}
      </div>
      {test.error && <Fault problem={test.error} />}
      {test.data && (
        <p
          role="status"
          className={`mt-3 border-l-3 px-4 py-2 ${test.data.well ? "border-success bg-success-wash" : "border-danger bg-danger-wash"}`}
        >
          {test.data.name}: {test.data.sentence}
          {test.data.well &&
            ` ${test.data.accountsThere} accounts there, ${test.data.accountsKnown} known here.`}
        </p>
      )}
      {test.data && test.data.missing.length + test.data.abilities.length > 0 && (
        <ul className="mt-2 text-dense">
          {test.data.missing.map((each) => (
            <li key={each} className="text-danger">
              {each}
            </li>
          ))}
          {test.data.abilities.map((each) => (
            <li key={each} className="text-muted">
              {each}
            </li>
          ))}
        </ul>
      )}
      <HealthTime application={application.key} />
      <ApplicationDrift application={application.key} />
      <Deviations application={application.key} />
      {faults.data && faults.data.items.length > 0 && (
        <>
          <Heading
            aside={
              faults.data.next && (
                <Link to={`/operations?state=fault&application=${application.key}`}>all of them</Link>
              )
            }
          >
            Faults
          </Heading>
          <ul>
            {faults.data.items.map((fault) => (
              <li key={fault.id} className="border-t border-rule py-2">
                <Link to={`/operations/${fault.id}`} className="font-bold">
                  {fault.kind.replace("-", " ")} {fault.account}
                </Link>
                <div className="text-dense text-danger">{fault.reason}</div>
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

/** Differences in the application that somebody answers for. */
function Deviations({ application }: { application: string }) {
  const zone = useZone();
  const {
    rows: items,
    more,
    whole,
  } = usePages(["deviations", application], (after) =>
    data(api.GET("/api/v1/deviations", { params: { query: { application, after, limit: 50 } } })),
  );
  if (items.length === 0) return null;
  return (
    <>
      <Heading>Differences somebody answers for</Heading>
      <ul>
        {items.map((each) => (
          <li key={each.id} className="border-t border-rule py-2">
            <Link to={`/people/${each.worker}?tab=accounts`} className="font-bold">
              {each.name}
            </Link>{" "}
            <span className="font-mono text-dense">{each.aspect.replace("entitlement:", "")}</span>
            <div className="text-dense text-muted">
              accepted by {each.acceptedBy} until {day(each.until, zone)}: {each.reason}
            </div>
          </li>
        ))}
      </ul>
      <More whole={whole} more={more} what="more" />
    </>
  );
}
