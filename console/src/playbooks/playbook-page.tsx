import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { GroupPages } from "../frame/group-pages";
import { count } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Waiting } from "../parts/states";
import { Tabs } from "../parts/tabs";
import { Title } from "../parts/title";
import { Rehearsal } from "./rehearsal";
import { RunsTable } from "./runs-table";
import { stepText, stepTitle, unfinished } from "./words";

type Playbook = Schemas["PlaybookShown"];

/** One playbook: its steps, what they would do for somebody, and its runs. */
export function PlaybookPage() {
  const { playbook: key = "" } = useParams();
  const [query, setQuery] = useSearchParams();
  const asked = useQuery({
    queryKey: ["playbook", key],
    queryFn: () => data(api.GET("/api/v1/playbooks/{key}", { params: { path: { key } } })),
  });
  if (asked.error) return <PageFault problem={asked.error} retry={() => void asked.refetch()} />;
  if (!asked.data) return <Waiting what="the playbook" />;
  const shown = asked.data;
  const going = unfinished(shown.runs);
  return (
    <div className="flex min-h-0 grow flex-col">
      <GroupPages group="flow" name="Around the flow" />
      <Title strong={shown.name}>{sentence(shown)}</Title>
      <div className="mt-1 flex flex-wrap gap-x-5 text-dense text-muted">
        <span className="font-mono">{shown.key}</span>
        <Link to={`/definitions/playbook/${shown.key}`}>Write it anew</Link>
        <span>what happened more than {count(shown.lateDays, "day", "days")} ago begins no run</span>
      </div>
      {shown.where && <p className="mt-2 max-w-prose font-mono text-dense">for {shown.where}</p>}
      <Tabs
        value={query.get("tab") ?? "steps"}
        onChange={(tab) => setQuery({ tab }, { replace: true })}
        tabs={[
          { key: "steps", name: "Steps", count: shown.steps.length, content: <Steps playbook={shown} /> },
          { key: "rehearsal", name: "Rehearsal", content: <Rehearsal playbook={shown} /> },
          {
            key: "runs",
            name: "Runs",
            count: going,
            content: (
              <RunsTable
                playbook={shown.key}
                empty="It was never played. A run would stand here for each person it is played for."
              />
            ),
          },
        ]}
      />
    </div>
  );
}

function sentence(shown: Playbook): string {
  const on = shown.on.replaceAll("-", " ");
  if (shown.on === "demand") return "played when somebody asks for it";
  if (shown.on === "schedule") return `played at ${shown.of}`;
  return shown.of ? `played when a ${on} of ${shown.of}` : `played for each ${on}`;
}

function Steps({ playbook }: { playbook: Playbook }) {
  return (
    <ol className="border-t border-rule">
      {playbook.steps.map((step, index) => (
        <li
          key={index}
          className="grid gap-x-6 gap-y-1 border-b border-rule py-2 md:grid-cols-[2rem_13rem_1fr]"
        >
          <span className="text-dense leading-6 text-muted">{index + 1}</span>
          <span className="text-dense leading-6 text-muted">{step.at || "then"}</span>
          <span>
            {stepTitle(step)}
            {stepText(step) && (
              <span className="block max-w-prose text-dense text-muted">{stepText(step)}</span>
            )}
            <span className="block text-dense text-muted">
              {step.more.where && `only where ${step.more.where}; `}
              {step.more.within && `left out when ${step.more.within} late; `}
              {step.more.fails === "go-on" && "if it fails, the run goes on"}
            </span>
          </span>
        </li>
      ))}
    </ol>
  );
}
