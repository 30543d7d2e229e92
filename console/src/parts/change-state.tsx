import { Badge } from "./badge";

/** How a feed or another change stands; one that a brake holds waits for somebody. */
export function ChangeState({ state }: { state: string }) {
  return state === "held" ? <Badge state="waiting">held</Badge> : <Badge state={state} />;
}
