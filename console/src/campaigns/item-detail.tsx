import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, data } from "../api/client";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { day, time } from "../parts/moments";
import { PersonChoice } from "../parts/person-choice";
import { Fault } from "../parts/states";
import type { Judging } from "./use-judging";
import type { Item } from "./use-reviews";

const did: Record<string, string> = {
  keep: "kept it",
  revoke: "revoked it",
  undo: "took that back",
  "pass-on": "passed it on",
  comment: "said",
  answer: "holds it, and says",
  hand: "handed it on",
};

/** What speaks for and against an item in full, what was said to it, and what needs words. */
export function ItemDetail({
  item,
  judging,
  wantsReason,
  zone,
}: {
  item: Item;
  judging?: Judging;
  wantsReason: boolean;
  zone: string;
}) {
  const queries = useQueryClient();
  const [reason, setReason] = useState("");
  const [passing, setPassing] = useState(false);
  const opened = useQuery({
    queryKey: ["items", item.id],
    queryFn: () => data(api.GET("/api/v1/items/{id}", { params: { path: { id: item.id } } })),
  });
  const look = useMutation({
    mutationFn: () => data(api.POST("/api/v1/items/{id}/open", { params: { path: { id: item.id } } })),
  });
  const { mutate: looked } = look;
  useEffect(() => {
    if (judging && !item.opened) looked();
    // Looked at once: what comes back does not make it looked at anew.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [item.id]);
  const settle = () => {
    setReason("");
    setPassing(false);
    void queries.invalidateQueries({ queryKey: ["reviews"] });
    void queries.invalidateQueries({ queryKey: ["items", item.id] });
  };
  const comment = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/items/{id}/comment", { params: { path: { id: item.id } }, body: { text: reason } }),
      ),
    onSuccess: settle,
  });
  const pass = useMutation({
    mutationFn: (worker: string) =>
      data(
        api.POST("/api/v1/reviews/{id}/pass-on", {
          params: { path: { id: item.review } },
          body: { items: [item.id], worker, reason },
        }),
      ),
    onSuccess: settle,
  });
  const error = comment.error ?? pass.error ?? opened.error;
  const open = item.state === "undecided" || item.state === "decided";
  return (
    <div className="border-t border-rule px-3 py-3 md:pl-10">
      <ul className="text-dense">
        {item.reasons.map((each) => (
          <li key={each}>{each}</li>
        ))}
        {item.conflicts.map((each) => (
          <li key={each} className="text-danger">
            A part of the conflict “{each}”.
          </li>
        ))}
        {item.before && (
          <li className="text-muted">
            Last time: {item.before === "keep" ? "kept" : "revoked"} by {item.beforeBy}.
          </li>
        )}
        <li className="text-muted">
          Risk {item.risk} · account {item.account || "—"} · <span className="font-mono">{item.target}</span>
        </li>
      </ul>
      {(opened.data?.remarks ?? []).length > 0 && (
        <ul className="mt-2 border-t border-rule pt-2 text-dense" aria-label="What was said">
          {opened.data?.remarks.map((each) => (
            <li key={each.id}>
              {each.byLogin} {did[each.what] ?? each.what}
              {each.text && `: ${each.text}`}{" "}
              <span className="text-muted">
                {day(each.at, zone)}, {time(each.at, zone)}
              </span>
            </li>
          ))}
        </ul>
      )}
      {judging && open && (
        <div className="mt-3 flex flex-wrap items-end gap-2">
          <Field
            label={wantsReason ? "Why it is kept although the record suggests to revoke it" : "In your words"}
            value={reason}
            maxLength={1000}
            onChange={(event) => setReason(event.target.value)}
            className="min-w-64 grow"
          />
          {!item.own && (
            <Button
              disabled={!reason.trim() || judging.busy}
              onClick={() => judging.decide(item, "keep", settle, reason)}
            >
              Keep with this reason
            </Button>
          )}
          <Button disabled={!reason.trim()} onClick={() => comment.mutate()}>
            Only say it
          </Button>
          <Button disabled={!reason.trim()} onClick={() => setPassing(!passing)}>
            Pass on
          </Button>
        </div>
      )}
      {passing && (
        <div className="mt-2">
          <PersonChoice label="Who is to judge it" choose={(worker) => pass.mutate(worker)} />
        </div>
      )}
      {error && (
        <div className="mt-2">
          <Fault problem={error} />
        </div>
      )}
    </div>
  );
}
