import { useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../api/client";
import { useZone } from "../api/session";
import { Choice } from "../parts/choice";
import { day, time } from "../parts/moments";
import { Empty, Fault, Waiting } from "../parts/states";
import { Timeline } from "../parts/timeline";
import { WhyPath } from "../parts/whypath";
import { Revoked } from "../campaigns/revoked";

/** Access through time, and below it why the person has one of their rights. */
export function PersonAccess({
  worker,
  accounts,
  why,
  choose,
}: {
  worker: string;
  accounts: Schemas["AccountShown"][];
  why: string;
  choose: (entitlement: string) => void;
}) {
  const timeline = useQuery({
    queryKey: ["timeline", worker],
    queryFn: () => data(api.GET("/api/v1/people/{worker}/timeline", { params: { path: { worker } } })),
  });
  const holdings = accounts.flatMap((account) => account.holdings);
  const root = timeline.data?.lanes[0]?.application;
  const first =
    why ||
    (holdings.find((each) => each.entitlement.startsWith(`${root}/`)) ?? holdings[0])?.entitlement ||
    "";
  if (timeline.error) return <Fault problem={timeline.error} retry={() => void timeline.refetch()} />;
  if (!timeline.data) return <Waiting what="the access timeline" />;
  if (timeline.data.lanes.length === 0) {
    return (
      <Empty title="No grant, now or before.">
        A birthright whose condition they meet gives one, from their first day on, and so does a request that
        is agreed to.
      </Empty>
    );
  }
  const pick = (target: string) => {
    const given = timeline.data.lanes.flatMap((lane) => lane.bars).find((bar) => bar.target === target);
    const holding = holdings.find((each) => given?.entitlements.includes(each.name));
    if (holding) choose(holding.entitlement);
  };
  return (
    <>
      <Timeline
        now={new Date(timeline.data.today)}
        standings={timeline.data.standings}
        lanes={timeline.data.lanes}
        pick={pick}
      />
      <Revoked worker={worker} />
      {first && <WhyBox worker={worker} entitlement={first} holdings={holdings} choose={choose} />}
    </>
  );
}

function WhyBox({
  worker,
  entitlement,
  holdings,
  choose,
}: {
  worker: string;
  entitlement: string;
  holdings: Schemas["Holding"][];
  choose: (entitlement: string) => void;
}) {
  const zone = useZone();
  const answer = useQuery({
    queryKey: ["why", worker, entitlement],
    queryFn: () =>
      data(
        api.GET("/api/v1/people/{worker}/why", {
          params: { path: { worker }, query: { entitlement } },
        }),
      ),
  });
  return (
    <section aria-label="Why" className="mt-6 rounded-sm border border-rule bg-raised px-5 py-4">
      <div className="mb-4 flex flex-wrap items-center gap-3">
        <h2 className="font-bold">Why “{answer.data?.entitlement.plainName ?? entitlement}”?</h2>
        <span className="text-dense text-muted">
          {answer.data?.observed && answer.data.observedSince
            ? `confirmed ${day(answer.data.observedSince, zone)} ${time(answer.data.observedSince, zone)}`
            : answer.data && "not there now"}
        </span>
        {holdings.length > 1 && (
          <span className="ml-auto">
            <Choice
              label="Which right"
              all="Another right"
              value={entitlement}
              options={holdings.map((each) => ({ value: each.entitlement, text: each.name }))}
              onChange={choose}
            />
          </span>
        )}
      </div>
      {answer.error && <Fault problem={answer.error} />}
      {answer.data?.paths.length === 0 && <p className="text-muted">No grant gives it.</p>}
      {answer.data?.paths.map((path) => (
        <div key={path.grant} className="mb-4 last:mb-0">
          <p className="mb-2 text-dense text-muted">{path.sentence}</p>
          <WhyPath path={path} />
        </div>
      ))}
    </section>
  );
}
