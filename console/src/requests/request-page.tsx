import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useNow, useSession, useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { Field } from "../parts/field";
import { day, lastDay, time } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Fault, Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { SeatsLeft } from "./ask-preview";
import { LineDecision } from "./line-decision";
import { RouteLine } from "./route-line";
import { useRequest } from "./use-requests";
import { listAsks } from "./use-list";
import { decidersOf, kindWords, noteWords } from "./words";

type Shown = Schemas["RequestShown"];
type Line = Schemas["LineShown"];

/** One request: what was asked, who has to agree and when, and everything that was said. */
export function RequestPage() {
  const { request: id = "" } = useParams();
  const zone = useZone();
  const asked = useRequest(id);
  if (asked.error) return <PageFault problem={asked.error} retry={() => void asked.refetch()} />;
  if (!asked.data) return <Waiting what="the request" />;
  const request = asked.data;
  const [first] = request.lines;
  return (
    <>
      <Title strong={request.lines.length === 1 && first ? first.name : `${request.lines.length} things`}>
        {request.lines.length === 1 && first
          ? `for ${first.subject.name}, ${sentence(first)}`
          : `asked for by ${request.askedBy}`}
      </Title>
      <p className="mt-1 text-dense text-muted">
        {request.askedBy} asked on {day(request.askedAt, zone)} at {time(request.askedAt, zone).slice(0, 5)}
      </p>
      {request.lines.map((line) => (
        <LineOf key={line.id} line={line} alone={request.lines.length === 1} />
      ))}
      <Story request={request} />
    </>
  );
}

function sentence(line: Line): string {
  const waits = line.stages.filter((stage) => stage.state === "open" || stage.state === "held");
  if (line.state !== "open") return line.state;
  const who = waits.flatMap((stage) => stage.who.filter((each) => !each.agreed).map((each) => each.name));
  return who.length === 0 ? "waits for an administrator" : `waits for ${[...new Set(who)].join(" or ")}`;
}

function LineOf({ line, alone }: { line: Line; alone: boolean }) {
  const zone = useZone();
  const now = useNow();
  const { data: session } = useSession();
  const overrules = line.state === "open" && !line.yours && may(session, "decide-in-place");
  return (
    <section aria-label={`${line.name} for ${line.subject.name}`} className="mt-4">
      {!alone && <Heading aside={line.subject.name}>{line.name}</Heading>}
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <Badge state={line.state} />
        <Who who={line.subject} />
        <span className="text-dense text-muted">{line.subjectDetail}</span>
        {kindWords(line.kind) && <span className="text-dense text-info">{kindWords(line.kind)}</span>}
      </div>
      {line.subjectFacts.length > 0 && (
        <p className="mt-1 text-dense text-muted">
          Not here yet; their record says{" "}
          {line.subjectFacts.map((each) => `${each.fact}: ${each.value}`).join(" · ")}
        </p>
      )}
      {line.reason && <p className="mt-2 max-w-prose">“{line.reason}”</p>}
      {line.endReason && <p className="mt-1 max-w-prose text-danger">{line.endReason}</p>}
      <div className="mt-3 grid gap-x-10 gap-y-2 md:grid-cols-2">
        <ul>
          {line.gives.map((each) => (
            <li key={each.entitlement} className="flex flex-wrap items-center gap-x-3">
              {each.name} <span className="text-muted">{each.application}</span>
              <Became became={line.became.find((one) => one.entitlement === each.entitlement)} zone={zone} />
              {(each.risk === "high" || each.risk === "critical") && (
                <span className="ml-2 text-dense text-warning">{each.risk} risk</span>
              )}
            </li>
          ))}
        </ul>
        <div className="text-dense text-muted">
          {line.answers.map((each) => (
            <p key={each.key}>
              {each.question} <span className="text-ink">{each.answer}</span>
            </p>
          ))}
          <p>{wanted(line)}</p>
          {line.team.people > 0 && (
            <p>
              {line.team.holding} of {line.team.people} with the same manager have it
            </p>
          )}
          {line.yours && line.holds.length > 0 && <p>They have already: {line.holds.join(", ")}</p>}
          {line.used.map((each) => (
            <p key={each.what}>
              {each.what} last used {day(each.at, zone)}
            </p>
          ))}
          {line.givenFrom && (
            <p className="text-success">
              given from {day(line.givenFrom, zone)}
              {line.givenUntil ? ` to ${lastDay(line.givenUntil, zone)}` : ""}
            </p>
          )}
        </div>
      </div>
      <SeatsLeft seats={line.seats} />
      <Conflicts line={line} zone={zone} />
      <RouteLine line={line} now={now} zone={zone} />
      <Stages line={line} zone={zone} />
      {line.yours && (
        <div className="mt-4 border-y border-rule py-4">
          <LineDecision
            line={line.id}
            what={`${line.name} for ${line.subject.name}`}
            conflicts={line.conflicts.filter((each) => each.needsTerms)}
          />
        </div>
      )}
      {overrules && (
        <details className="mt-4 border-y border-rule py-3">
          <summary className="cursor-pointer text-muted">Decide in another's place</summary>
          <div className="mt-3">
            <LineDecision line={line.id} what={`${line.name} for ${line.subject.name}`} inPlaceOf="anybody" />
          </div>
        </details>
      )}
    </section>
  );
}

const becameStates: Record<string, string> = {
  confirmed: "approved",
  "on its way": "waiting",
  "by hand": "waiting",
  fault: "failed",
  gone: "withdrawn",
};

function Became({ became, zone }: { became: Schemas["Became"] | undefined; zone: string }) {
  if (!became) return null;
  return (
    <Badge state={becameStates[became.state] ?? "waiting"}>
      {became.since && became.state === "confirmed"
        ? `confirmed ${time(became.since, zone).slice(0, 5)}`
        : became.state}
    </Badge>
  );
}

function Conflicts({ line, zone }: { line: Line; zone: string }) {
  if (line.conflicts.length === 0 && !line.exemptControl) return null;
  return (
    <div className="mt-3 border-l-3 border-danger bg-danger-wash px-4 py-2">
      {line.conflicts.map((each) => (
        <p key={each.rule}>
          <span className="font-bold">{each.name}</span> — {each.risk}
        </p>
      ))}
      {line.exemptControl && line.exemptUntil && (
        <p className="text-dense">
          Allowed until {lastDay(line.exemptUntil, zone)}; in its place: {line.exemptControl}
        </p>
      )}
    </div>
  );
}

function wanted(line: Line): string {
  const term = line.term === "open" ? "open-ended" : line.term;
  return [
    line.startDay ? `from ${day(line.startDay)}` : "from when it is agreed",
    line.lastDay ? `until ${day(line.lastDay)}` : term,
  ].join(", ");
}

function Who({ who }: { who: Schemas["Who"] }) {
  return <Link to={`/people/${who.worker}`}>{who.name}</Link>;
}

function Stages({ line, zone }: { line: Line; zone: string }) {
  return (
    <ol className="mt-2 md:sr-only">
      {line.stages.map((stage) => (
        <li key={stage.number} className="flex flex-wrap items-center gap-x-3 border-b border-rule py-2">
          <Badge state={stage.state} />
          <span>{decidersOf(stage.ask, stage.agree)}</span>
          <span className="text-dense text-muted">
            {stage.settledBy
              ? `${stage.settledBy}${stage.settledAt ? `, ${day(stage.settledAt, zone)}` : ""}`
              : stage.who.map((each) => each.name).join(", ")}
            {stage.lapsesAt && ` · until ${day(stage.lapsesAt, zone)}`}
          </span>
        </li>
      ))}
    </ol>
  );
}

/** Puts what was asked for anew on the list, to be asked for once more. */
function AskAgain({ request }: { request: Shown }) {
  const navigate = useNavigate();
  const lines = request.lines.filter((line) => line.kind === "new");
  if (lines.length === 0 || request.lines.some((line) => line.state === "open")) return null;
  return (
    <Button
      onClick={() => {
        const byOffer = new Map(lines.map((line) => [line.offer, line]));
        listAsks(
          [...byOffer.values()].map((line) => ({
            offer: line.offer,
            name: line.name,
            answers: Object.fromEntries(line.answers.map((each) => [each.key, each.answer])),
            reason: line.reason,
          })),
        );
        navigate("/requests/list");
      }}
    >
      Ask again
    </Button>
  );
}

function Story({ request }: { request: Shown }) {
  const zone = useZone();
  const queries = useQueryClient();
  const [text, setText] = useState("");
  const path = { id: request.id };
  const settled = () => queries.invalidateQueries();
  const say = useMutation({
    mutationFn: () => data(api.POST("/api/v1/requests/{id}/comments", { params: { path }, body: { text } })),
    onSuccess: () => setText(""),
    onSettled: settled,
  });
  const withdraw = useMutation({
    mutationFn: () =>
      data(api.POST("/api/v1/requests/{id}/withdraw", { params: { path }, body: { reason: text } })),
    onSuccess: () => setText(""),
    onSettled: settled,
  });
  const problem = say.error ?? withdraw.error;
  return (
    <>
      <Heading>What was said and done</Heading>
      <ul className="border-t border-rule">
        {request.notes.length === 0 && <li className="py-2 text-muted">Nothing yet.</li>}
        {request.notes.map((note, index) => (
          <li key={index} className="grid gap-x-5 border-b border-rule py-1.5 md:grid-cols-[11rem_1fr]">
            <span className="text-dense leading-6 text-muted">
              {day(note.at, zone)} {time(note.at, zone).slice(0, 5)}
            </span>
            <span className="min-w-0 break-words">
              <span className="font-bold">{note.by}</span>
              {note.forPerson && <span className="text-muted"> in the place of {note.forPerson}</span>}{" "}
              {noteWords(note.what)}
              {note.text && <span className="text-muted">: {note.text}</span>}
            </span>
          </li>
        ))}
      </ul>
      {problem && (
        <div className="mt-3">
          <Fault problem={problem} />
        </div>
      )}
      <div className="mt-3 flex flex-wrap items-end gap-3">
        <Field
          label="Say something, for all whom it concerns"
          value={text}
          maxLength={1000}
          onChange={(event) => setText(event.target.value)}
          className="min-w-64 max-w-xl grow"
        />
        <Button disabled={!text.trim() || say.isPending} onClick={() => say.mutate()}>
          Say it
        </Button>
        <AskAgain request={request} />
        {request.withdrawable && (
          <Button kind="danger" disabled={withdraw.isPending} onClick={() => withdraw.mutate()}>
            Withdraw what is open
          </Button>
        )}
      </div>
    </>
  );
}
