import { useSearchParams } from "react-router";
import { may, useSession } from "../api/session";
import { ButtonLink } from "../parts/button";
import { Empty } from "../parts/states";
import { Tabs } from "../parts/tabs";
import { Title } from "../parts/title";
import { Approvals } from "./approvals";
import { Catalogue } from "./catalogue";
import { LinesTable } from "./lines-table";
import { RequestNumbers } from "./numbers";
import { useWaitingLines } from "./use-requests";

/** Asking for access, what was asked for, and what waits for a decision. */
export function RequestsPage() {
  const [query, setQuery] = useSearchParams();
  const { data: session } = useSession();
  const waiting = useWaitingLines();
  const number = waiting.data?.items.length ?? 0;
  return (
    <div className="flex min-h-0 grow flex-col">
      <Title strong="Requests" actions={<ButtonLink to="/away">While I am away</ButtonLink>}>
        what people need, and who agrees to it
      </Title>
      <Tabs
        value={query.get("tab") ?? "ask"}
        onChange={(tab) => setQuery({ tab }, { replace: true })}
        tabs={[
          { key: "ask", name: "Ask for something", content: <Catalogue /> },
          { key: "mine", name: "Mine", content: <LinesTable whose="mine" /> },
          {
            key: "waiting",
            name: "Waits for me",
            count: number || undefined,
            content:
              number === 0 ? (
                <Empty title="Nothing waits for your decision.">
                  What somebody asks for, and you have a say in, would stand here and on Today.
                </Empty>
              ) : (
                <Approvals />
              ),
          },
          ...(may(session, "see-requests")
            ? [
                { key: "all", name: "Everybody's", content: <LinesTable whose="all" /> },
                { key: "numbers", name: "In numbers", content: <RequestNumbers /> },
              ]
            : []),
        ]}
      />
    </div>
  );
}
