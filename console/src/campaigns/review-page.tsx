import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams, useSearchParams } from "react-router";
import { api, data } from "../api/client";
import { usePages } from "../api/pages";
import { useNow, useZone } from "../api/session";
import { Button } from "../parts/button";
import { Choice } from "../parts/choice";
import { useKeys } from "../parts/keys";
import { away, day } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Empty, Fault, Waiting } from "../parts/states";
import { Title } from "../parts/title";
import { Filters, type By, type Found } from "./filters";
import { ItemGroups } from "./item-groups";
import { Judged } from "./judged";
import { SignOff } from "./sign-off";
import { useJudging } from "./use-judging";
import { waits } from "./use-reviews";

const PAGE = 100;

const bys: { value: By; text: string }[] = [
  { value: "person", text: "By person" },
  { value: "target", text: "By what it is" },
  { value: "application", text: "By application" },
];

/** What one reviewer has to judge: item by item, with what speaks for and against each. */
export function ReviewPage() {
  const { review: id = "" } = useParams();
  const zone = useZone();
  const now = useNow();
  const [query, setQuery] = useSearchParams();
  const found: Found = {
    state: query.get("state") ?? "",
    suggestion: query.get("suggestion") ?? "",
    application: query.get("application") ?? "",
    by: bys.find((each) => each.value === query.get("by"))?.value ?? "person",
  };
  const set = (changed: Partial<Found>) =>
    setQuery(
      Object.fromEntries(Object.entries({ ...found, ...changed }).filter(([, value]) => value)) as Record<
        string,
        string
      >,
      { replace: true },
    );
  const shown = useQuery({
    queryKey: ["reviews", id],
    queryFn: () => data(api.GET("/api/v1/reviews/{id}", { params: { path: { id } } })),
    retry: false,
  });
  const pages = usePages(["reviews", id, "items", found], (after) =>
    data(
      api.GET("/api/v1/reviews/{id}/items", {
        params: {
          path: { id },
          query: {
            state: found.state || undefined,
            suggestion: found.suggestion || undefined,
            application: found.application || undefined,
            // What an application has stands together where items are in the order of what they are.
            by: found.by === "person" ? "person" : "target",
            after,
            limit: PAGE,
          },
        },
      }),
    ),
  );
  const [at, setAt] = useState(0);
  const [asking, setAsking] = useState(false);
  const items = pages.rows;
  const judging = useJudging(id);
  const mine = !!shown.data && waits(shown.data) && shown.data.yours;
  const current = items[Math.min(at, items.length - 1)];
  const step = (by: number) => {
    const next = Math.max(0, Math.min(items.length - 1, at + by));
    setAt(next);
    if (next > items.length - 10) pages.more();
  };
  useKeys({
    ArrowDown: () => step(1),
    ArrowUp: () => step(-1),
    ...(mine && current
      ? {
          k: () => judging.decide(current, "keep", () => step(1)),
          r: () => judging.decide(current, "revoke", () => step(1)),
          u: () => judging.undo(current),
        }
      : {}),
  });
  if (shown.error) return <PageFault problem={shown.error} />;
  if (!shown.data) return <Waiting what="the review" />;
  const review = shown.data;
  const { mix } = review;
  return (
    <>
      <Title
        strong={review.about ? `${review.name}: ${review.about}` : review.name}
        actions={
          <>
            <Choice
              label="Grouped"
              all="By person"
              value={found.by === "person" ? "" : found.by}
              options={bys.slice(1)}
              onChange={(by) => set({ by: bys.find((each) => each.value === by)?.value ?? "person" })}
            />
            {mine && !review.held && (
              <Button kind="primary" onClick={() => setAsking(!asking)}>
                What would go · {mix.revoked}
              </Button>
            )}
          </>
        }
      >
        {review.signedOffAt
          ? `signed off by ${review.signedOffBy} on ${day(review.signedOffAt, zone)}`
          : review.yours
            ? `you have judged ${mix.items - mix.undecided} of ${mix.items}; sign off by ${day(review.dueAt, zone)}`
            : `${review.reviewer} has judged ${mix.items - mix.undecided} of ${mix.items}`}
      </Title>
      <div className="mt-3">
        <Judged mix={mix} />
      </div>
      <p className="mt-1 text-dense text-muted">
        As of {day(review.asOf, zone)}
        {!review.signedOffAt && ` · over ${away(review.dueAt, now)}`}
        {review.level > 1 && " · a second look at what others decided"}
        {mine && (
          <span className="hidden md:inline">
            {" "}
            · <kbd>↑</kbd> <kbd>↓</kbd> move, <kbd>k</kbd> keep, <kbd>r</kbd> revoke, <kbd>u</kbd> undo
          </span>
        )}
      </p>
      {review.held && (
        <p role="status" className="mt-3 border-l-3 border-warning bg-warning-wash px-4 py-2">
          It was signed off, and takes something from many people, so it waits until somebody else releases
          it. Whoever leads the campaign finds it under Held changes; if you change a decision, sign off anew
          once they have dropped it.
        </p>
      )}
      {judging.error && (
        <div className="mt-3">
          <Fault problem={judging.error} />
        </div>
      )}
      {asking && mine && !review.held && <SignOff review={review} close={() => setAsking(false)} />}
      <Filters found={found} change={set} mine={mine} items={items} judging={judging} />
      {pages.query.error && <Fault problem={pages.query.error} />}
      {pages.query.data && items.length === 0 ? (
        <Empty title="Nothing here.">
          {found.state || found.suggestion || found.application
            ? "No item of this review is like that."
            : "What you had to judge went to somebody else."}
        </Empty>
      ) : (
        <ItemGroups
          items={items}
          by={found.by}
          current={current?.id}
          select={(item) => setAt(items.indexOf(item))}
          judging={mine ? judging : undefined}
          level={review.level}
        />
      )}
      {!pages.whole && (
        <div className="mt-3">
          <Button onClick={pages.more}>More</Button>
        </div>
      )}
    </>
  );
}
