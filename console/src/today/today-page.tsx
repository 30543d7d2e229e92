import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useNow, useSession } from "../api/session";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { away, count, day, hourOf } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { Asks, useAsks } from "../playbooks/asks";
import { StuckRuns, useStuckRuns } from "../playbooks/stuck-runs";
import { WaitingReviews } from "../campaigns/waiting-reviews";
import { useReviews, waits } from "../campaigns/use-reviews";
import { OpenConflicts, useOpenConflicts } from "../conflicts/open-conflicts";
import { Approvals } from "../requests/approvals";
import { useWaitingLines } from "../requests/use-requests";
import { alike } from "../provisioning/alike";
import { FaultRow } from "./fault-row";
import { OwnThings } from "./own-things";
import { Stuck } from "./stuck";
import { Row } from "./row";
import { useApplications } from "../applications/use-applications";

/** What somebody may do who looks after packages or conflicts: Today is their own all the same. */
const BESIDE = ["see-portfolios", "tend-portfolios", "bundle", "end-grants", "see-conflicts", "exempt"];

/** What needs me, most urgent first; then what moved, and what is due. */
export function TodayPage() {
  const { data: session } = useSession();
  const now = useNow();
  const {
    data: today,
    error,
    refetch,
  } = useQuery({
    queryKey: ["today"],
    queryFn: () => data(api.GET("/api/v1/today")),
    refetchInterval: 15_000,
  });
  const asks = useAsks();
  const lines = useWaitingLines();
  const stuckRuns = useStuckRuns();
  const reviews = (useReviews().data ?? []).filter(waits);
  const conflicts = useOpenConflicts();
  if (error) return <PageFault problem={error} retry={() => void refetch()} />;
  if (!today || !session) return <Waiting what="today" />;
  const waiting =
    (lines.data?.items.length ?? 0) +
    (asks.data?.items.length ?? 0) +
    reviews.length +
    conflicts.length +
    stuckRuns.length +
    alike(today.faults).length +
    today.unwell.length +
    withRejects(today).length +
    today.held.length +
    today.drift.length +
    (today.tasks > 0 ? 1 : 0) +
    (today.troubles.length > 0 ? 1 : 0) +
    (today.planningLateSince ? 1 : 0);
  const plain = session.permissions.every((each) => BESIDE.includes(each));
  const hour = hourOf(now, session.zone);
  const greeting = hour < 12 ? "Good morning" : hour < 18 ? "Good day" : "Good evening";
  return (
    <>
      <Title
        strong={`${greeting}, ${session.name.split(" ")[0]}`}
        actions={<span className="text-dense text-muted">{day(now, session.zone)}</span>}
      >
        {waiting === 0
          ? "nothing waits for you"
          : count(waiting, "thing waits for you", "things wait for you")}
      </Title>
      <Approvals heading="Your decision" />
      <Asks />
      <WaitingReviews />
      <OpenConflicts />
      {plain ? (
        session.worker && <OwnThings worker={session.worker} />
      ) : (
        <Waits
          today={today}
          mends={may(session, "decide-operations")}
          asked={
            (asks.data?.items.length ?? 0) +
            (lines.data?.items.length ?? 0) +
            reviews.length +
            conflicts.length
          }
        />
      )}
      {may(session, "see-feeds") && <Moved today={today} />}
      <Upcoming upcoming={today.upcoming} />
    </>
  );
}

/** Feeds of the last day that somebody has to look at. */
function withRejects(today: Schemas["TodayShown"]) {
  return today.feeds.filter((feed) => feed.rowsRejected > 0 || feed.state === "refused");
}

function Waits({ today, mends, asked }: { today: Schemas["TodayShown"]; mends: boolean; asked: number }) {
  const navigate = useNavigate();
  const now = useNow();
  const { data: applications = [] } = useApplications({ enabled: today.faults.length > 0 });
  const groups = alike(today.faults);
  const stuckRuns = useStuckRuns();
  const feeds = withRejects(today);
  const nothing =
    today.unwell.length +
      groups.length +
      feeds.length +
      today.held.length +
      today.drift.length +
      today.tasks +
      today.troubles.length +
      stuckRuns.length ===
      0 && !today.planningLateSince;
  if (nothing && asked > 0) return null;
  if (nothing) {
    return (
      <p className="mt-5 border-y border-rule py-6 text-muted">
        Faults, applications that do not answer and rejected rows would stand here, most urgent first.
      </p>
    );
  }
  return (
    <ul className="mt-5 border-t border-rule">
      <Stuck today={today} />
      <StuckRuns />
      {today.unwell.map((application) => (
        <Row
          key={application.key}
          kind={<Badge state="unwell" />}
          title={<Link to={`/applications/${application.key}`}>{application.name}</Link>}
          text={`${application.sentence} · ${count(application.waiting, "operation waits", "operations wait")}`}
          aside={application.since ? away(application.since, now) : ""}
          actions={<Button onClick={() => navigate(`/applications/${application.key}`)}>Look</Button>}
        />
      ))}
      {groups.map((group, index) => (
        <FaultRow
          key={group.application + group.reason}
          alike={group}
          name={applications.find((each) => each.key === group.application)?.name ?? group.application}
          mends={mends}
          first={index === 0}
        />
      ))}
      {feeds.map((feed) => (
        <Row
          key={feed.id}
          kind={
            <Badge state={feed.state === "refused" ? "refused" : "waiting"}>
              {feed.state === "refused" ? "refused" : "rejected rows"}
            </Badge>
          }
          title={<Link to={`/feeds/${feed.id}`}>Feed {feed.fileName}</Link>}
          text={feed.sentence}
          aside=""
          actions={<Button onClick={() => navigate(`/feeds/${feed.id}`)}>Read why</Button>}
        />
      ))}
    </ul>
  );
}

const words: Record<string, [string, string]> = {
  joiner: ["joined", "text-success"],
  rehire: ["came back", "text-success"],
  mover: ["moved", "text-info"],
  leaver: ["left or will leave", "text-danger"],
  correction: ["corrected", "text-muted"],
  "leave-begins": ["go on leave", "text-warning"],
  "leave-ends": ["back from leave", "text-success"],
  "start-moved": ["start on another day", "text-info"],
};

function Moved({ today }: { today: Schemas["TodayShown"] }) {
  return (
    <>
      <Heading aside={count(today.people, "person active", "people active")}>Since yesterday</Heading>
      {today.moved.length === 0 ? (
        <p className="text-muted">Nobody joined, moved or left.</p>
      ) : (
        <ul className="flex flex-wrap gap-x-10 gap-y-3">
          {today.moved.map((moved) => {
            const [word, tone] = words[moved.kind] ?? [moved.kind, "text-ink"];
            return (
              <li key={moved.kind}>
                <Link
                  to={`/flow?kind=${moved.kind}`}
                  className="flex items-baseline gap-2 no-underline hover:underline"
                >
                  <span className={`text-title font-bold ${tone}`}>{moved.events}</span> {word}
                </Link>
              </li>
            );
          })}
        </ul>
      )}
    </>
  );
}

function Upcoming({ upcoming }: { upcoming: Schemas["Upcoming"][] }) {
  const now = useNow();
  return (
    <>
      <Heading aside="in the next seven days">Due this week</Heading>
      {upcoming.length === 0 && (
        <p className="text-muted">Nobody starts, leaves or changes between leave and work.</p>
      )}
      <ul>
        {upcoming.map((each) => (
          <li
            key={each.worker + each.what}
            className="grid grid-cols-[7rem_9rem_1fr] gap-3 border-b border-rule py-2"
          >
            <span className="text-dense leading-6 text-muted" title={each.day}>
              {day(each.day)}
            </span>
            <span className="text-dense leading-6">
              {each.what} <span className="text-muted">{away(each.day, now)}</span>
            </span>
            <span>
              <Link to={`/people/${each.worker}`} className="font-bold">
                {each.name}
              </Link>{" "}
              <span className="text-muted">{each.detail}</span>
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
