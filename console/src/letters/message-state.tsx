import { Badge } from "../parts/badge";

/** How a message stands: what was sent is done, unlike an operation that was only sent. */
export function MessageState({ state }: { state: string }) {
  return <Badge state={state === "sent" ? "done" : state}>{state}</Badge>;
}
