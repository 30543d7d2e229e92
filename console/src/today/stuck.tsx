import { Link, useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { useNow, useSession } from "../api/session";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { away, count } from "../parts/moments";
import { kinds } from "../reconcile/kinds";
import { Row } from "./row";

/** What does not get on: planning that is late, changes a brake holds, drift that asks, people set aside. */
export function Stuck({ today }: { today: Schemas["TodayShown"] }) {
  const navigate = useNavigate();
  const now = useNow();
  const { data: session } = useSession();
  const trouble = today.troubles[0];
  return (
    <>
      {today.planningLateSince && (
        <Row
          kind={<Badge state="unwell">late</Badge>}
          title="Planning does not get on"
          text="People wait to be planned for: what changed for them has not reached any application. The service's log says why."
          aside={away(today.planningLateSince, now)}
          actions={<Button onClick={() => navigate("/work-list")}>Look</Button>}
        />
      )}
      {today.held.map((change) => (
        <Row
          key={change.id}
          kind={<Badge state="waiting">held</Badge>}
          title={<Link to={`/held/${change.id}`}>{change.what}</Link>}
          text={change.sentence}
          aside={away(change.broughtAt, now)}
          actions={
            <Button onClick={() => navigate(`/held/${change.id}`)}>
              {change.broughtBy === session?.login ? "Look" : "Look and decide"}
            </Button>
          }
        />
      ))}
      {today.tasks > 0 && (
        <Row
          kind={<Badge state="task">by hand</Badge>}
          title={<Link to="/tasks?kind=task">{count(today.tasks, "task", "tasks")}</Link>}
          text="to do by hand, in applications without a connector"
          aside=""
          actions={<Button onClick={() => navigate("/tasks?kind=task")}>Look</Button>}
        />
      )}
      {today.drift.map((each) => (
        <Row
          key={each.application}
          kind={<Badge state="waiting">drift</Badge>}
          title={<Link to={`/drift?application=${each.application}&response=ask`}>{each.name}</Link>}
          text={`${count(each.asked, "difference waits", "differences wait")} for who answers for it: ${Object.entries(
            each.byKind,
          )
            .map(([kind, drifts]) => `${drifts} × ${kinds[kind] ?? kind}`)
            .join(", ")}`}
          aside=""
          actions={
            <Button onClick={() => navigate(`/drift?application=${each.application}&response=ask`)}>
              Look and decide
            </Button>
          }
        />
      ))}
      {trouble && (
        <Row
          kind={<Badge state="waiting">set aside</Badge>}
          title={
            <Link to="/work-list">
              {count(today.troubled, "person keeps what they have", "people keep what they have")}
            </Link>
          }
          text={`${trouble.name}: ${trouble.sentence}`}
          aside={away(trouble.since, now)}
          actions={<Button onClick={() => navigate("/work-list")}>Read the work list</Button>}
        />
      )}
    </>
  );
}
