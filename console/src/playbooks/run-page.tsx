import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { useNow, useZone } from "../api/session";
import { GroupPages } from "../frame/group-pages";
import { Badge } from "../parts/badge";
import { away, day, time } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { RunDecision } from "./run-decision";
import { RunLine } from "./run-line";
import { stepText, stepTitle } from "./words";

/** One run: what each step did and what comes, as a line of time and in words. */
export function RunPage() {
  const { run: id = "" } = useParams();
  const zone = useZone();
  const now = useNow();
  const key = ["run", id];
  const asked = useQuery({
    queryKey: key,
    queryFn: () => data(api.GET("/api/v1/runs/{id}", { params: { path: { id } } })),
    refetchInterval: 4_000,
  });
  if (asked.error) return <PageFault problem={asked.error} retry={() => void asked.refetch()} />;
  if (!asked.data) return <Waiting what="the run" />;
  const shown = asked.data;
  const { run } = shown;
  return (
    <>
      <GroupPages group="flow" name="Around the flow" />
      <Title strong={run.person}>
        {run.name}, {sentence(run)}
      </Title>
      <div className="mt-1 flex flex-wrap items-center gap-x-5 gap-y-1 text-dense text-muted">
        <Badge state={run.state} />
        <Link to={`/people/${run.worker}`} className="font-mono">
          {run.worker}
        </Link>
        <Link to={`/playbooks/${run.playbook}`}>{run.playbook}</Link>
        <span>about {day(run.day)}</span>
        <span>
          began {day(run.beganAt, zone)} on {run.beganOn.replaceAll("-", " ")}
          {run.beganBy !== "glenmoor" && ` by ${run.beganBy}`}
        </span>
        {run.dueAt && run.state === "open" && <span>looked at again {away(run.dueAt, now)}</span>}
      </div>
      {run.reason && <p className="mt-3 max-w-prose">{run.reason}</p>}
      <RunLine run={shown} now={now} zone={zone} />
      <RunDecision shown={shown} queryKey={key} />
      <Heading>Step by step</Heading>
      <ol className="border-t border-rule">
        {shown.steps.map((step) => (
          <Step key={step.number} step={step} zone={zone} />
        ))}
      </ol>
    </>
  );
}

function sentence(run: Schemas["RunListed"]): string {
  switch (run.state) {
    case "open":
      return `at step ${run.step} of ${run.steps}`;
    case "stopped":
      return `stopped at step ${run.step} of ${run.steps}`;
    case "held":
      return `held at step ${run.step} of ${run.steps}`;
    case "done":
      return "all steps are done";
    default:
      return "ended before all steps were done";
  }
}

function Step({ step, zone }: { step: Schemas["RunStepShown"]; zone: string }) {
  const at = step.settledAt ?? step.due;
  return (
    <li className="grid gap-x-6 gap-y-1 border-b border-rule py-2 md:grid-cols-[2rem_7rem_12rem_1fr]">
      <span className="text-dense leading-6 text-muted">{step.number}</span>
      <span>
        <Badge state={step.state} />
      </span>
      <span className="text-dense leading-6 text-muted">
        {at ? `${day(at, zone)} ${time(at, zone).slice(0, 5)}` : "after the one before"}
        {step.settledBy && step.settledBy !== "glenmoor" && `, ${step.settledBy}`}
      </span>
      <span className="min-w-0">
        {stepTitle(step.said)}
        {step.what && <span className="block break-words text-dense text-muted">{step.what}</span>}
        {!step.what && stepText(step.said) && (
          <span className="block break-words text-dense text-muted">{stepText(step.said)}</span>
        )}
      </span>
    </li>
  );
}
