import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "../api/client";
import { Button } from "../parts/button";
import { count } from "../parts/moments";
import { Fault, Waiting } from "../parts/states";
import type { Review } from "./use-reviews";

/** What would go, with what ends as a whole and what stays without it; then the sign-off. */
export function SignOff({ review, close }: { review: Review; close: () => void }) {
  const queries = useQueryClient();
  const would = useQuery({
    queryKey: ["reviews", review.id, "forecast", review.mix],
    queryFn: () => data(api.GET("/api/v1/reviews/{id}/forecast", { params: { path: { id: review.id } } })),
  });
  const sign = useMutation({
    mutationFn: () =>
      data(api.POST("/api/v1/reviews/{id}/sign-off", { params: { path: { id: review.id } } })),
    onSuccess: (signed) => {
      if (!signed.held) close();
    },
    onSettled: () => queries.invalidateQueries(),
  });
  if (would.error) return <Fault problem={would.error} />;
  if (!would.data) return <Waiting what="what would go" />;
  const { goes, ends, stays, items, people } = would.data;
  const left = review.mix.undecided;
  return (
    <section aria-label="What would go" className="mt-4 border-l-3 border-accent bg-raised px-4 py-3">
      <p>
        {items === 0
          ? "Nothing would go."
          : `${count(items, "item", "items")} of ${count(people, "person", "people")} would go, and come back by no rule until somebody releases it.`}
      </p>
      <div className="mt-2 grid gap-x-8 md:grid-cols-3">
        <Names heading="What goes" all={goes} />
        <Names heading="Ends as a whole" all={ends} />
        <Names heading="Stays without it" all={stays} />
      </div>
      {sign.error && <Fault problem={sign.error} />}
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <Button
          kind={items > 0 ? "danger" : "primary"}
          disabled={left > 0 || sign.isPending}
          onClick={() => sign.mutate()}
        >
          {items > 0 ? `Revoke ${items} and sign off` : "Sign off"}
        </Button>
        <Button onClick={close}>Not yet</Button>
        {left > 0 && (
          <span className="text-dense text-warning">
            {count(left, "item is", "items are")} undecided: decide, or pass on what you cannot decide.
          </span>
        )}
      </div>
    </section>
  );
}

function Names({ heading, all }: { heading: string; all: Schemas["Goes"][] }) {
  if (all.length === 0) return null;
  return (
    <div>
      <h2 className="text-dense text-muted">{heading}</h2>
      <ul className="text-dense">
        {all.slice(0, 12).map((each) => (
          <li key={each.name}>
            {each.name} <span className="text-muted">· {each.people}</span>
          </li>
        ))}
        {all.length > 12 && <li className="text-muted">and {all.length - 12} more</li>}
      </ul>
    </div>
  );
}
