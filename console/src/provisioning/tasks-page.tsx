import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { useNow } from "../api/session";
import { useApplications } from "../applications/use-applications";
import { Badge } from "../parts/badge";
import { Choice } from "../parts/choice";
import { away, count } from "../parts/moments";
import { More } from "../parts/more";
import { Empty, Fault, Waiting } from "../parts/states";
import { Title } from "../parts/title";
import { TaskDecision } from "./task-decision";

type Operation = Schemas["Operation"];

/** What people have to do: faults to mend, and changes where there is no connector. */
export function TasksPage() {
  const [query, setQuery] = useSearchParams();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const kind = query.get("kind") ?? "";
  const application = query.get("application") ?? "";
  const { data: applications = [] } = useApplications();
  const {
    query: asked,
    rows,
    more,
    whole,
  } = usePages(
    ["tasks", kind, application],
    (after) =>
      data(
        api.GET("/api/v1/operations", {
          params: {
            query: {
              state: kind || "fault,task",
              application: application || undefined,
              after,
              limit: 100,
            },
          },
        }),
      ),
    { refetchInterval: 5_000 },
  );
  const set = (key: string, value: string) => {
    const after = new URLSearchParams(query);
    if (value) after.set(key, value);
    else after.delete(key);
    setQuery(after, { replace: true });
  };
  const choose = (ids: string[], on: boolean) => {
    const after = new Set(chosen);
    ids.forEach((id) => (on ? after.add(id) : after.delete(id)));
    setChosen(after);
  };
  const there = rows.filter((row) => chosen.has(row.id));
  return (
    <>
      <Title strong="Tasks">
        {asked.data
          ? rows.length === 0
            ? "nothing is to be done"
            : `${count(rows.length, "waits", "wait")} for somebody${whole ? "" : ", and more"}`
          : "…"}
      </Title>
      <div className="mt-4 mb-3 flex flex-wrap items-center gap-2">
        <Choice
          label="Kind"
          all="Faults and tasks"
          value={kind}
          options={[
            { value: "fault", text: "faults" },
            { value: "task", text: "to do by hand" },
          ]}
          onChange={(value) => set("kind", value)}
        />
        <Choice
          label="Application"
          all="All applications"
          value={application}
          options={applications.map((each) => ({ value: each.key, text: each.name }))}
          onChange={(value) => set("application", value)}
        />
      </div>
      {asked.error && <Fault problem={asked.error} retry={() => void asked.refetch()} />}
      {asked.isPending && !asked.error && <Waiting what="tasks" />}
      {asked.data && rows.length === 0 && (
        <Empty title="Nothing is to be done.">
          What an application refused, and what people do in applications without a connector, would stand
          here.
        </Empty>
      )}
      {rows.length > 0 && (
        <>
          <TaskDecision chosen={there} decided={() => setChosen(new Set())} />
          <label className="flex items-center gap-3 border-b border-rule py-2 text-dense text-muted">
            <input
              type="checkbox"
              checked={there.length === rows.length}
              onChange={(event) =>
                choose(
                  rows.map((row) => row.id),
                  event.target.checked,
                )
              }
            />
            all that are shown
          </label>
          <ul>
            {rows.map((row) => (
              <Task
                key={row.id}
                task={row}
                application={
                  applications.find((each) => each.key === row.application)?.name ?? row.application
                }
                chosen={chosen.has(row.id)}
                choose={(on) => choose([row.id], on)}
              />
            ))}
          </ul>
          <More whole={whole} more={more} what="more tasks" />
        </>
      )}
    </>
  );
}

function Task({
  task,
  application,
  chosen,
  choose,
}: {
  task: Operation;
  application: string;
  chosen: boolean;
  choose: (on: boolean) => void;
}) {
  const now = useNow();
  return (
    <li className={`flex items-start gap-3 border-b border-rule py-2 ${chosen ? "bg-accent-wash" : ""}`}>
      <input
        type="checkbox"
        aria-label={`Choose ${task.kind} ${task.account}`}
        className="mt-1"
        checked={chosen}
        onChange={(event) => choose(event.target.checked)}
      />
      <span className="w-24 shrink-0">
        <Badge state={task.state}>{task.state === "task" ? "by hand" : "fault"}</Badge>
      </span>
      <span className="min-w-0 grow">
        <Link to={`/operations/${task.id}`} className={task.state === "fault" ? "text-danger" : ""}>
          {task.reason}
        </Link>
        <span className="block text-dense text-muted">
          {task.kind.replace("-", " ")} in {application} for{" "}
          <Link to={`/people/${task.worker}?tab=accounts`}>{task.name}</Link>
          {task.attempts > 1 && `, tried ${task.attempts} times`}
        </span>
      </span>
      <span className="shrink-0 text-dense text-muted">{away(task.notBefore, now)}</span>
    </li>
  );
}
