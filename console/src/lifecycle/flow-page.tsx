import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useNow, useSession, useZone } from "../api/session";
import { Button } from "../parts/button";
import { Choice } from "../parts/choice";
import { count, day, took } from "../parts/moments";
import { usePages } from "../api/pages";
import { More } from "../parts/more";
import { Empty, Fault, Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { alike } from "../provisioning/alike";
import { GroupPages } from "../frame/group-pages";
import { FlowLine } from "./flow-line";
import { kinds } from "./kinds";
import { useApplications } from "../applications/use-applications";

/** Asks again whenever the service says that something happened. */
function useLive(): boolean {
  const queries = useQueryClient();
  const [live, setLive] = useState(false);
  useEffect(() => {
    const source = new EventSource("/api/v1/flow/changes");
    source.addEventListener("open", () => setLive(true));
    source.addEventListener("changed", () => {
      void queries.invalidateQueries({ queryKey: ["events"] });
      void queries.invalidateQueries({ queryKey: ["applications"] });
      void queries.invalidateQueries({ queryKey: ["faults"] });
    });
    source.onerror = () => setLive(false);
    return () => source.close();
  }, [queries]);
  return live;
}

/** Events as they pass: detected, planned, sent, confirmed. */
export function FlowPage() {
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const zone = useZone();
  const now = useNow();
  const live = useLive();
  const { data: session } = useSession();
  const kind = query.get("kind") ?? "";
  const {
    query: events,
    rows,
    more,
    whole,
  } = usePages(["events", kind], (after) =>
    data(api.GET("/api/v1/events", { params: { query: { kind: kind || undefined, after, limit: 40 } } })),
  );
  const faults = rows.reduce((sum, row) => sum + row.faults, 0);
  const open = rows.filter((row) => row.plannedAt == null || row.confirmed < row.operations).length;
  return (
    <>
      <GroupPages group="flow" name="Around the flow" />
      <Title
        strong="Flow"
        actions={
          <>
            <span className="flex items-center gap-2 text-dense text-muted">
              <span className={`size-2 rounded-full ${live ? "bg-success" : "bg-warning"}`} aria-hidden />
              {live ? "live" : "reconnecting"}
            </span>
            <Choice
              label="Kind"
              all="All kinds"
              value={kind}
              options={kinds.map((each) => ({ value: each, text: each.replace("-", " ") }))}
              onChange={(value) => setQuery(value ? { kind: value } : {}, { replace: true })}
            />
            {may(session, "load-feeds") && (
              <Button kind="primary" onClick={() => navigate("/feeds?load=yes")}>
                Load a feed
              </Button>
            )}
          </>
        }
      >
        {events.data
          ? `the last ${count(rows.length, "event", "events")}, ${open === 0 ? "all through" : `${open} on their way`}, ${faults === 0 ? "no fault" : count(faults, "fault", "faults")}`
          : "…"}
      </Title>
      {events.error && <Fault problem={events.error} retry={() => void events.refetch()} />}
      {events.isPending && !events.error && <Waiting what="events" />}
      {events.data && rows.length === 0 && (
        <Empty title="No event yet.">
          <Link to="/feeds">Load a feed</Link>, and what it means for each person passes through here.
        </Empty>
      )}
      {rows.length > 0 && (
        <>
          <Sums rows={rows} />
          {may(session, "see-applications") && <Strip />}
          {may(session, "see-applications") && <Faults />}
          <div className="relative mt-4" aria-hidden>
            <div className="grid h-7 grid-cols-[minmax(12rem,300px)_22%_22%_24%_1fr] text-dense text-muted">
              <span />
              {["detected", "planned", "sent", "confirmed"].map((name) => (
                <span key={name} className="border-l border-rule pl-2">
                  {name}
                </span>
              ))}
            </div>
          </div>
          <ol>
            {rows.map((event) => (
              <FlowLine key={event.id} event={event} now={now} zone={zone} />
            ))}
          </ol>
          <More whole={whole} more={more} what="earlier events" />
        </>
      )}
    </>
  );
}

function Sums({ rows }: { rows: Schemas["Event"][] }) {
  const times = rows
    .filter(
      (row) =>
        row.confirmedAt &&
        row.operations > 0 &&
        row.confirmed === row.operations &&
        row.effectiveOn &&
        row.effectiveOn <= day8601(row.detectedAt),
    )
    .map((row) => Date.parse(row.confirmedAt!) - Date.parse(row.detectedAt))
    .sort((a, b) => a - b);
  const median = times[Math.floor(times.length / 2)];
  const operations = rows.reduce((sum, row) => sum + row.operations, 0);
  const confirmed = rows.reduce((sum, row) => sum + row.confirmed, 0);
  return (
    <p className="mt-1 flex flex-wrap gap-x-6 text-dense">
      <span>
        <b>{operations}</b> operations, <b>{confirmed}</b> confirmed
      </span>
      {median !== undefined && (
        <span className="text-muted">
          median detected → confirmed {took("1970-01-01T00:00:00Z", new Date(median).toISOString())}
        </span>
      )}
    </p>
  );
}

const day8601 = (at: string) => at.slice(0, 10);

/** The applications, one line each of health, under the flow that ends in them. */
function Strip() {
  const { data: applications = [] } = useApplications({ refetchInterval: 10_000 });
  return (
    <ul className="mt-4 grid grid-cols-2 gap-3 md:grid-cols-4 xl:grid-cols-8">
      {applications.map((each) => (
        <li
          key={each.key}
          className={`border-t-3 pt-1 ${each.health === "well" ? "border-success" : each.health === "unwell" ? "border-danger" : "border-muted"}`}
        >
          <Link to={`/applications/${each.key}`} className="font-bold no-underline hover:underline">
            {each.name}
          </Link>
          <div
            className={`truncate text-dense ${each.health === "unwell" ? "text-danger" : "text-muted"}`}
            title={each.sentence}
          >
            {each.health === "well"
              ? each.waiting > 0
                ? `${each.waiting} waiting`
                : "well, nothing waits"
              : each.sentence}
          </div>
        </li>
      ))}
    </ul>
  );
}

function Faults() {
  const zone = useZone();
  const { data: faults } = useQuery({
    queryKey: ["faults"],
    queryFn: () => data(api.GET("/api/v1/operations", { params: { query: { state: "fault", limit: 200 } } })),
  });
  if (!faults || faults.items.length === 0) return null;
  return (
    <>
      <Heading aside={<Link to="/operations?state=fault">all of them</Link>}>Faults</Heading>
      <ul>
        {alike(faults.items)
          .slice(0, 5)
          .map(({ faults: [fault, ...more], application, reason }) => (
            <li
              key={application + reason}
              className="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-2"
            >
              <Link
                to={
                  more.length > 0
                    ? `/operations?state=fault&application=${application}`
                    : `/operations/${fault!.id}`
                }
                className="font-bold"
              >
                {fault!.kind.replace("-", " ")} {fault!.account}
              </Link>
              <span className="text-muted">
                {more.length > 0 && `and ${more.length} alike, `}in {application}
              </span>
              <span className="min-w-0 grow text-danger">{reason}</span>
              <span className="text-dense text-muted">{fault!.settledAt && day(fault!.settledAt, zone)}</span>
            </li>
          ))}
      </ul>
    </>
  );
}
