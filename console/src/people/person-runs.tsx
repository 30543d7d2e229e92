import { useNavigate } from "react-router";
import { may, useSession } from "../api/session";
import { MessagesTable } from "../letters/messages-table";
import { Heading } from "../parts/title";
import { RunsTable } from "../playbooks/runs-table";

/** What was and is done for a person by playbooks, and what was told about them to whom. */
export function PersonRuns({ worker }: { worker: string }) {
  const navigate = useNavigate();
  const { data: session } = useSession();
  const to = (id: string) => `/letters/${id}`;
  return (
    <>
      <Heading aside="each run with how far it is">Played for them</Heading>
      <RunsTable worker={worker} empty="No playbook was played for them." />
      {may(session, "see-letters") && (
        <>
          <Heading aside="to whom, and what became of it">What was told about them</Heading>
          <MessagesTable worker={worker} to={to} open={(id) => void navigate(to(id))} />
        </>
      )}
    </>
  );
}
