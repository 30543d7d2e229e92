import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { useNow, useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { count, day } from "../parts/moments";
import { PersonChoice } from "../parts/person-choice";
import { Fault } from "../parts/states";

type Reviewer = Schemas["ReviewerShown"];

/** One row a reviewer, the round's days across: how much was decided on each, and today as one rule. */
export function Weather({ shown }: { shown: Schemas["RoundShown"] }) {
  const now = useNow();
  const zone = useZone();
  const from = Date.parse(shown.round.asOf);
  const to = Math.max(Date.parse(shown.round.dueAt), from + 1);
  const today = ((now.getTime() - from) / (to - from)) * 100;
  return (
    <div className="relative">
      <div
        className="hidden gap-x-5 text-dense text-muted md:grid md:grid-cols-[15rem_minmax(12rem,1fr)_18rem_auto]"
        aria-hidden
      >
        <span />
        <span className="flex justify-between">
          <span>{day(shown.round.asOf, zone)}</span>
          <span>{day(shown.round.dueAt, zone)}</span>
        </span>
      </div>
      <ul className="border-t border-rule">
        {shown.reviewers.map((each) => (
          <WeatherRow
            key={each.review}
            reviewer={each}
            shown={shown}
            from={from}
            to={to}
            today={today}
            zone={zone}
          />
        ))}
      </ul>
      {shown.reviewers.length === 0 && <p className="text-muted">Nobody has anything to judge.</p>}
    </div>
  );
}

function WeatherRow({
  reviewer,
  shown,
  from,
  to,
  today,
  zone,
}: {
  reviewer: Reviewer;
  shown: Schemas["RoundShown"];
  from: number;
  to: number;
  today: number;
  zone: string;
}) {
  const [giving, setGiving] = useState(false);
  const { mix } = reviewer;
  const done = mix.items - mix.undecided;
  const place = (moment: string) =>
    Math.max(0, Math.min(99, ((Date.parse(moment) - from) / (to - from)) * 100));
  return (
    <li className="border-b border-rule py-2">
      <div className="grid items-center gap-x-5 gap-y-1 md:grid-cols-[15rem_minmax(12rem,1fr)_18rem_auto]">
        <div className="min-w-0">
          <Link
            to={`/reviews/${reviewer.review}`}
            className="block truncate font-bold no-underline hover:underline"
          >
            {reviewer.reviewer}
          </Link>
          <span className="text-dense text-muted">
            {reviewer.actsFor && `for ${reviewer.actsFor} · `}
            {reviewer.level > 1 ? "a second look" : ""}
          </span>
        </div>
        <div className="relative h-6" aria-hidden>
          <div className="absolute inset-x-0 top-3 h-px bg-rule" />
          {reviewer.days.map((each) => (
            <span
              key={each.day}
              title={`${day(each.day, zone)}: ${each.items}`}
              className="absolute bottom-3 w-1.5 bg-info"
              style={{
                left: `${place(`${each.day}T12:00:00Z`)}%`,
                height: `${4 + (each.items / Math.max(1, mix.items)) * 14}px`,
              }}
            />
          ))}
          {reviewer.signedOffAt && (
            <span
              className="absolute top-1 h-4 w-0.5 bg-success"
              style={{ left: `${place(reviewer.signedOffAt)}%` }}
            />
          )}
          {today >= 0 && today <= 100 && (
            <span className="absolute inset-y-0 w-px bg-ink" style={{ left: `${today}%` }} />
          )}
        </div>
        <div>
          <div className="flex h-1.5 bg-rule" aria-hidden>
            <span className="bg-success" style={{ width: `${(mix.kept / Math.max(1, mix.items)) * 100}%` }} />
            <span
              className="bg-danger"
              style={{ width: `${(mix.revoked / Math.max(1, mix.items)) * 100}%` }}
            />
          </div>
          <span className="text-dense text-muted">
            {done} of {mix.items} judged · {mix.kept} kept, {mix.revoked} revoked
            {mix.ended > 0 && `, ${mix.ended} ended`}
          </span>
        </div>
        <div className="flex flex-wrap items-center gap-2 md:justify-end">
          {reviewer.fastest > 0 && <Badge state="unwell">{`${reviewer.fastest} kept in a minute`}</Badge>}
          {reviewer.signedOffAt ? (
            <Badge state="closed">{`signed off ${day(reviewer.signedOffAt, zone)}`}</Badge>
          ) : reviewer.late ? (
            <Badge state="waiting">late</Badge>
          ) : null}
          {shown.leads && shown.round.state === "open" && !reviewer.signedOffAt && (
            <Button onClick={() => setGiving(!giving)}>Give to</Button>
          )}
        </div>
      </div>
      {giving && <GiveTo reviewer={reviewer} close={() => setGiving(false)} />}
    </li>
  );
}

function GiveTo({ reviewer, close }: { reviewer: Reviewer; close: () => void }) {
  const queries = useQueryClient();
  const [reason, setReason] = useState("");
  const give = useMutation({
    mutationFn: (worker: string) =>
      data(
        api.POST("/api/v1/reviews/{id}/reassign", {
          params: { path: { id: reviewer.review } },
          body: { worker, reason },
        }),
      ),
    onSuccess: close,
    onSettled: () => queries.invalidateQueries({ queryKey: ["rounds"] }),
  });
  return (
    <div className="mt-2 flex flex-wrap items-end gap-3 border-l-3 border-accent pl-4">
      <Field
        label="Why; it is kept"
        value={reason}
        maxLength={1000}
        onChange={(event) => setReason(event.target.value)}
        className="min-w-64 grow"
      />
      <div className="min-w-72">
        {reason.trim() ? (
          <PersonChoice label="Who is to judge it" choose={(worker) => give.mutate(worker)} />
        ) : (
          <p className="text-dense text-muted">
            Say why, then to whom {count(reviewer.mix.undecided, "item goes", "items go")}.
          </p>
        )}
      </div>
      <Button onClick={close}>Leave it</Button>
      {give.error && <Fault problem={give.error} />}
    </div>
  );
}
