import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useSession, useZone } from "../api/session";
import { useWork, type Work } from "../api/work";
import { WorkLine } from "../jobs/work-line";
import { Button } from "../parts/button";
import { ChangeState } from "../parts/change-state";
import { Field } from "../parts/field";
import { MirroredBars } from "../parts/mirroredbars";
import { count, day, time } from "../parts/moments";
import { Pairs, Sheet } from "../parts/sheet";
import { Fault, Waiting } from "../parts/states";
import { Heading } from "../parts/title";

type Sum = Schemas["Sum"];

/** The sums of a forecast, whatever was forecast: a feed's stand one deeper than a load's. */
function sumOf(forecast: Schemas["HeldChange"]["forecast"]): Sum | undefined {
  if ("sum" in forecast) return forecast.sum as Sum;
  return "lines" in forecast ? (forecast as Sum) : undefined;
}

/** One held change: why it waits, what it would do, and the decision on it. */
export function HeldSheet({ id, close }: { id: string; close: () => void }) {
  const zone = useZone();
  const change = useQuery({
    queryKey: ["held", id],
    queryFn: () => data(api.GET("/api/v1/held-changes/{id}", { params: { path: { id } } })),
  });
  const shown = change.data;
  const [query] = useSearchParams();
  const { data: work } = useWork(query.get("work") ?? undefined);
  const sum = shown && sumOf(shown.forecast);
  return (
    <Sheet title={shown ? shown.what : "Held change"} close={close}>
      {change.error && <Fault problem={change.error} />}
      {!shown && !change.error && <Waiting what="the change" />}
      {shown && (
        <>
          <p className="mb-4 border-l-3 border-warning bg-warning-wash px-4 py-2">{shown.sentence}</p>
          <Pairs
            pairs={[
              ["state", <ChangeState key="s" state={shown.state} />],
              [
                "brought",
                `${day(shown.broughtAt, zone)} ${time(shown.broughtAt, zone)} by ${shown.broughtBy}`,
              ],
              ...(shown.decidedAt
                ? ([
                    ["decided", `${day(shown.decidedAt, zone)} by ${shown.decidedBy}`],
                    ["because", shown.note],
                  ] as [string, string][])
                : []),
            ]}
          />
          {work && <WorkLine work={work} />}
          {shown.state === "held" && <Decide change={shown} />}
          {sum && <WouldDo sum={sum} />}
          {"playbook" in shown.forecast && <WouldPlay runs={shown.forecast} />}
          {"round" in shown.forecast && (
            <WouldRevoke
              forecast={shown.forecast as Schemas["ClosingForecast"] | Schemas["SignOffForecast"]}
            />
          )}
        </>
      )}
    </Sheet>
  );
}

function Decide({ change }: { change: Schemas["HeldChange"] }) {
  const queries = useQueryClient();
  const { data: session } = useSession();
  const [note, setNote] = useState("");
  const [, setQuery] = useSearchParams();
  const path = { id: change.id };
  const decide = useMutation({
    mutationFn: async (what: "release" | "drop") => {
      if (what === "drop") {
        return data(api.POST("/api/v1/held-changes/{id}/drop", { params: { path }, body: { note } }));
      }
      const begun = await data<Work>(
        api.POST("/api/v1/held-changes/{id}/release", { params: { path }, body: { note } }),
      );
      setQuery((before) => ({ ...Object.fromEntries(before), work: begun.id }), { replace: true });
    },
    onSettled: () => queries.invalidateQueries(),
  });
  if (!may(session, "decide-held-changes")) return null;
  if (session?.login === change.broughtBy) {
    return (
      <p className="mt-5 border-y border-rule py-4 text-muted">
        You brought this change, so somebody else has to look at it and release or drop it.
      </p>
    );
  }
  return (
    <div className="mt-5 border-y border-rule py-4">
      {decide.error && <Fault problem={decide.error} />}
      <Field
        label="Why it is right, or wrong"
        value={note}
        onChange={(event) => setNote(event.target.value)}
      />
      <div className="mt-2 flex gap-2">
        <Button
          kind="primary"
          disabled={decide.isPending || !note.trim()}
          onClick={() => decide.mutate("release")}
        >
          {decide.isPending ? "Working" : "Release: carry it out"}
        </Button>
        <Button
          kind="danger"
          disabled={decide.isPending || !note.trim()}
          onClick={() => decide.mutate("drop")}
        >
          Drop: forget it
        </Button>
      </div>
    </div>
  );
}

/** What the end of a round, or of one review in it, would take. */
function WouldRevoke({ forecast }: { forecast: Schemas["ClosingForecast"] | Schemas["SignOffForecast"] }) {
  const review = "review" in forecast ? forecast.review : undefined;
  return (
    <>
      <Heading aside={"reviewer" in forecast ? `judged by ${forecast.reviewer}` : "nobody has decided"}>
        <Link to={`/campaigns/rounds/${forecast.round}`}>{forecast.name}</Link>
      </Heading>
      <p>
        {count(forecast.items, "item", "items")} of {count(forecast.people, "person", "people")} would be
        revoked.{" "}
        {review !== undefined && (
          <Link to={`/reviews/${review}?state=decided`}>Look at what was decided</Link>
        )}
      </p>
    </>
  );
}

/** For whom a playbook would be played. */
function WouldPlay({ runs }: { runs: Schemas["HeldRuns"] }) {
  return (
    <>
      <Heading aside={`${count(runs.steps, "step", "steps")} each`}>
        <Link to={`/playbooks/${runs.playbook}`}>{runs.name}</Link> for {count(runs.runs, "person", "people")}
      </Heading>
      <ul>
        {runs.people.map((person) => (
          <li key={person.worker + person.day} className="border-t border-rule py-1.5">
            <Link to={`/people/${person.worker}?tab=runs`} className="font-bold">
              {person.name}
            </Link>{" "}
            <span className="font-mono text-dense text-muted">{person.worker}</span>{" "}
            <span className="text-dense text-muted">about {day(person.day)}</span>
          </li>
        ))}
      </ul>
      {runs.runs > runs.people.length && (
        <p className="border-t border-rule py-1.5 text-muted">and {runs.runs - runs.people.length} more</p>
      )}
      <p className="mt-3 text-dense text-muted">
        Whoever it is held for until then goes the same way as these.
      </p>
    </>
  );
}

function WouldDo({ sum }: { sum: Sum }) {
  const bars = Object.entries(sum.byGroup ?? {})
    .map(([name, balance]) => ({ name, ...balance }))
    .filter((row) => row.losses + row.gains > 0);
  return (
    <>
      <Heading aside={`${count(sum.losing, "person loses", "people lose")} access`}>What it would do</Heading>
      {bars.length > 0 && <MirroredBars title={`By ${(sum.groupedBy ?? "").toLowerCase()}`} rows={bars} />}
      <ul className="mt-3">
        {sum.lines.map((line) => (
          <li key={line.worker} className="border-t border-rule py-1.5">
            <Link to={`/people/${line.worker}`} className="font-bold">
              {line.name}
            </Link>{" "}
            <span className="font-mono text-dense text-muted">{line.worker}</span>{" "}
            <span className="text-dense text-muted">{line.event}</span>
            <div className="text-dense">
              {line.losses.map((each) => (
                <span key={each} className="mr-3 text-danger">
                  − {each}
                </span>
              ))}
              {line.gains.map((each) => (
                <span key={each} className="mr-3 text-success">
                  + {each}
                </span>
              ))}
            </div>
          </li>
        ))}
      </ul>
    </>
  );
}
