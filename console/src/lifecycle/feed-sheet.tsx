import { useQuery } from "@tanstack/react-query";
import { Download } from "lucide-react";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { useZone } from "../api/session";
import { count, day, time } from "../parts/moments";
import { Pairs, Sheet } from "../parts/sheet";
import { Fault, Waiting } from "../parts/states";
import { Heading } from "../parts/title";
import { ChangeState } from "../parts/change-state";
import { counted } from "./kinds";

/** One feed: what it meant, and why rows were set aside. */
export function FeedSheet({ id, close }: { id: string; close: () => void }) {
  const zone = useZone();
  const path = { id };
  const feed = useQuery({
    queryKey: ["feed", id],
    queryFn: () => data(api.GET("/api/v1/feeds/{id}", { params: { path } })),
  });
  const rejects = useQuery({
    queryKey: ["rejects", id],
    queryFn: () => data(api.GET("/api/v1/feeds/{id}/rejects", { params: { path, query: { limit: 200 } } })),
  });
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
      {rejects.data && rejects.data.items.length > 0 && (
        <>
          <Heading
            aside={
              <a href={`/api/v1/feeds/${id}/rejects.csv`} className="inline-flex items-center gap-1">
                <Download size={13} aria-hidden /> all as CSV
              </a>
            }
          >
            {count(rejects.data.items.length, "thing", "things")} set aside
          </Heading>
          <ul>
            {rejects.data.items.map((reject) => (
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
        </>
      )}
      {rejects.data?.items.length === 0 && feed.data?.state === "loaded" && (
        <p className="mt-4 text-muted">No row was set aside.</p>
      )}
    </Sheet>
  );
}
