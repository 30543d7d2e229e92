import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { may, useSession } from "../api/session";
import { GroupPages } from "../frame/group-pages";
import { ButtonLink } from "../parts/button";
import { count } from "../parts/moments";
import { Empty, Fault, Waiting } from "../parts/states";
import { Heading, Title } from "../parts/title";
import { RunsTable } from "./runs-table";
import { unfinished } from "./words";

/** All playbooks, and the runs that are not over. */
export function PlaybooksPage() {
  const { data: session } = useSession();
  const asked = useQuery({
    queryKey: ["playbooks"],
    queryFn: () => data(api.GET("/api/v1/playbooks", { params: { query: { limit: 500 } } })),
    refetchInterval: 10_000,
  });
  const all = asked.data?.items ?? [];
  const going = all.reduce((sum, each) => sum + unfinished(each.runs), 0);
  return (
    <div className="flex min-h-0 grow flex-col">
      <GroupPages group="flow" name="Around the flow" />
      <Title
        strong="Playbooks"
        actions={
          may(session, "load-definitions") && (
            <ButtonLink to="/definitions/playbook/new">A new playbook</ButtonLink>
          )
        }
      >
        {asked.data
          ? `${count(going, "run is", "runs are")} under way`
          : "what is done when something happens"}
      </Title>
      {asked.error && <Fault problem={asked.error} retry={() => void asked.refetch()} />}
      {asked.isPending && !asked.error && <Waiting what="playbooks" />}
      {asked.data && all.length === 0 && (
        <Empty title="No playbook is defined.">
          A playbook says what is done when somebody comes, moves or leaves. It is written in a definition
          file and loaded with glenmoor define load.
        </Empty>
      )}
      <ul className="mt-4 border-t border-rule">
        {all.map((playbook) => (
          <li
            key={playbook.key}
            className="grid items-baseline gap-x-6 gap-y-1 border-b border-rule py-2 md:grid-cols-[14rem_9rem_1fr_16rem]"
          >
            <span>
              <Link to={`/playbooks/${playbook.key}`} className="font-bold">
                {playbook.name}
              </Link>
              <span className="block font-mono text-dense text-muted">{playbook.key}</span>
            </span>
            <span className="text-dense">on {playbook.on.replaceAll("-", " ")}</span>
            <span className="min-w-0 truncate font-mono text-dense text-muted" title={playbook.where}>
              {playbook.where || "for everybody"}
            </span>
            <span className="text-dense text-muted md:text-right">
              {count(playbook.steps.length, "step", "steps")}
              {unfinished(playbook.runs) > 0 && `, ${unfinished(playbook.runs)} under way`}
              {(playbook.runs.stopped ?? 0) > 0 && (
                <span className="text-danger">, {playbook.runs.stopped} stopped</span>
              )}
            </span>
          </li>
        ))}
      </ul>
      <Heading aside="each for one person">Under way</Heading>
      <RunsTable state="unfinished" empty="No run is under way." />
    </div>
  );
}
