import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, data } from "../api/client";
import { may, useSession } from "../api/session";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { count } from "../parts/moments";
import { Row } from "../today/row";

/** Playbooks of which runs are stopped or held: somebody has to say how they go on. */
export function useStuckRuns() {
  const { data: session } = useSession();
  const { data: playbooks } = useQuery({
    queryKey: ["playbooks"],
    enabled: may(session, "play-playbooks"),
    queryFn: () => data(api.GET("/api/v1/playbooks", { params: { query: { limit: 500 } } })),
    refetchInterval: 30_000,
  });
  return (playbooks?.items ?? []).filter((each) => (each.runs.stopped ?? 0) + (each.runs.held ?? 0) > 0);
}

/** A row for each of them. */
export function StuckRuns() {
  const navigate = useNavigate();
  return useStuckRuns().map((playbook) => {
    const stopped = playbook.runs.stopped ?? 0;
    const held = playbook.runs.held ?? 0;
    return (
      <Row
        key={playbook.key}
        kind={<Badge state={stopped > 0 ? "stopped" : "held"} />}
        title={playbook.name}
        text={[
          stopped > 0 && count(stopped, "run is stopped at a step", "runs are stopped at a step"),
          held > 0 && count(held, "run is held", "runs are held"),
        ]
          .filter(Boolean)
          .join(", ")}
        aside=""
        actions={<Button onClick={() => navigate(`/playbooks/${playbook.key}?tab=runs`)}>Look</Button>}
      />
    );
  });
}
