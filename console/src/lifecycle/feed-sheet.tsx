import { useQuery } from "@tanstack/react-query";
import { Download } from "lucide-react";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { useZone } from "../api/session";
import { count, day, time } from "../parts/moments";
import { Pairs, Sheet } from "../parts/sheet";
import { usePages } from "../api/pages";
import { More } from "../parts/more";
import { Fault, Waiting } from "../parts/states";
import { Heading } from "../parts/title";
import { ChangeState } from "../parts/change-state";
import { counted } from "./kinds";

/** One feed: what it meant, and why rows were rejected. */
export function FeedSheet({ id, close }: { id: string; close: () => void }) {
  const zone = useZone();
  const path = { id };
  const feed = useQuery({
    queryKey: ["feed", id],
    queryFn: () => data(api.GET("/api/v1/feeds/{id}", { params: { path } })),
  });
  const rejects = usePages(["rejects", id], (after) =>
    data(api.GET("/api/v1/feeds/{id}/rejects", { params: { path, query: { after, limit: 200 } } })),
  );
  return (
    <Sheet title={feed.data ? `Feed ${feed.data.fileName}` : "Feed"} close={close}>
      {feed.error && <Fault problem={feed.error} />}
      {!feed.data && !feed.error && <Waiting what="the feed" />}
      {feed.data && (
        <Pairs
          pairs={[
            ["state", <ChangeState key="state" state={feed.data.state} />],
            ...(feed.data.heldChange
              ? ([
                  [
                    "held as",
                    <Link key="held" to={`/held/${feed.data.heldChange}`}>
                      change {feed.data.heldChange}
                    </Link>,
                  ],
                ] as [string, ReactNode][])
              : []),
            ["came to", feed.data.sentence],
            ["source", feed.data.source],
            [
              "loaded",
              `${day(feed.data.startedAt, zone)} ${time(feed.data.startedAt, zone)} by ${feed.data.loadedBy}`,
            ],
            ["events", counted(feed.data.events).join(", ") || "none"],
          ]}
        />
      )}
      {rejects.rows.length > 0 && (
        <>
          <Heading
            aside={
              <a href={`/api/v1/feeds/${id}/rejects.csv`} className="inline-flex items-center gap-1">
                <Download size={13} aria-hidden /> all as CSV
              </a>
            }
          >
            {rejects.whole
              ? count(rejects.rows.length, "thing", "things")
              : `${rejects.rows.length} of many things`}{" "}
            rejected
          </Heading>
          <ul>
            {rejects.rows.map((reject) => (
              <li key={reject.number} className="border-t border-rule py-2">
                <div className="text-dense text-muted">
                  line {reject.line} {reject.worker && <span className="font-mono">{reject.worker}</span>}{" "}
                  {reject.columnName}
                </div>
                <div>
                  found <b>{reject.found}</b>
                </div>
                <div>expected {reject.expected}</div>
              </li>
            ))}
          </ul>
          <More whole={rejects.whole} more={rejects.more} what="more" />
        </>
      )}
      {rejects.query.data && rejects.rows.length === 0 && feed.data?.state === "loaded" && (
        <p className="mt-4 text-muted">No row was rejected.</p>
      )}
    </Sheet>
  );
}
