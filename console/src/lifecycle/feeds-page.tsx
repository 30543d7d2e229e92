import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useSession, useZone } from "../api/session";
import { Button } from "../parts/button";
import { day, time } from "../parts/moments";
import { usePages } from "../api/pages";
import { More } from "../parts/more";
import { Empty, Fault, Waiting } from "../parts/states";
import { Title } from "../parts/title";
import { GroupPages } from "../frame/group-pages";
import { FeedLoad } from "./feed-load";
import { ChangeState } from "../parts/change-state";
import { FeedSheet } from "./feed-sheet";
import { counted } from "./kinds";
import { Sources } from "./sources";

/** What came in: each delivery, and loading the next one. */
export function FeedsPage() {
  const { feed } = useParams();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const zone = useZone();
  const { data: session } = useSession();
  const loads = may(session, "load-feeds");
  const {
    query: feeds,
    rows,
    more,
    whole,
  } = usePages(["feeds"], (after) =>
    data(api.GET("/api/v1/feeds", { params: { query: { after, limit: 100 } } })),
  );
  const last = rows[0];
  return (
    <>
      <GroupPages group="flow" name="Around the flow" />
      <Title
        strong="Feeds"
        actions={
          loads &&
          query.get("load") !== "yes" && (
            <Button kind="primary" onClick={() => setQuery({ load: "yes" })}>
              Load a feed
            </Button>
          )
        }
      >
        {last ? `the last came ${day(last.startedAt, zone)} from ${last.source}` : "none yet"}
      </Title>
      {loads && query.get("load") === "yes" && (
        <FeedLoad
          work={query.get("work") ?? undefined}
          follow={(work) => setQuery(work ? { load: "yes", work } : { load: "yes" }, { replace: true })}
          close={() => setQuery({})}
        />
      )}
      {feeds.error && <Fault problem={feeds.error} retry={() => void feeds.refetch()} />}
      {feeds.isPending && !feeds.error && <Waiting what="feeds" />}
      {feeds.data && rows.length === 0 && (
        <Empty title="No feed was loaded yet.">
          A feed is a file from HR with everyone in it, or with everyone who changed.
        </Empty>
      )}
      {rows.length > 0 && (
        <ul className="mt-4 border-t border-rule">
          {rows.map((row) => (
            <FeedRow key={row.id} row={row} zone={zone} open={() => navigate(`/feeds/${row.id}`)} />
          ))}
        </ul>
      )}
      {feeds.data && <More whole={whole} more={more} what="earlier feeds" />}
      <Sources />
      {feed && <FeedSheet id={feed} close={() => navigate("/feeds")} />}
    </>
  );
}

function FeedRow({ row, zone, open }: { row: Schemas["Feed"]; zone: string; open: () => void }) {
  return (
    <li className="border-b border-rule">
      <button
        type="button"
        onClick={open}
        className="grid w-full grid-cols-[9rem_10rem_1fr_auto] items-center gap-4 py-2.5 text-left hover:bg-muted-wash"
      >
        <span className="text-dense text-muted">
          {day(row.startedAt, zone)} {time(row.startedAt, zone)}
        </span>
        <span className="truncate font-bold">{row.fileName}</span>
        <span className="truncate">
          {row.state === "loaded" ? counted(row.events).join(" · ") || "no event" : row.sentence}
        </span>
        <span className="flex items-center gap-3">
          {row.rowsRejected > 0 && (
            <span className="text-dense text-warning">{row.rowsRejected} rejected</span>
          )}
          <ChangeState state={row.state} />
        </span>
      </button>
    </li>
  );
}
