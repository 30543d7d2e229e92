import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { useNow, useSession } from "../api/session";
import { away } from "../parts/moments";
import { Heading } from "../parts/title";

const SHOWN = 8;

/** Open conflicts of my people, and of rules I answer for; who sees all has a page for them. */
export function useOpenConflicts() {
  const { data: session } = useSession();
  const all = session?.permissions.includes("see-everybody");
  const asked = useQuery({
    queryKey: ["conflicts", "mine"],
    enabled: session !== undefined && !all,
    queryFn: () => data(api.GET("/api/v1/conflicts", { params: { query: { state: "open", limit: 50 } } })),
    refetchInterval: 30_000,
  });
  return asked.data?.items ?? [];
}

/** On Today: who breaks a rule that concerns me. */
export function OpenConflicts() {
  const now = useNow();
  const conflicts = useOpenConflicts();
  if (conflicts.length === 0) return null;
  return (
    <>
      <Heading aside="end a side, or have it allowed for a while">In conflict</Heading>
      <ul className="border-t border-rule">
        {conflicts.slice(0, SHOWN).map((each) => (
          <li key={each.id} className="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-2">
            <Link to={`/conflicts/${each.id}`} className="font-bold no-underline hover:underline">
              {each.person}
            </Link>
            <span className="grow">{each.ruleName}</span>
            <span className="text-dense text-muted">found {away(each.since, now)}</span>
          </li>
        ))}
        {conflicts.length > SHOWN && (
          <li className="py-2 text-dense text-muted">and {conflicts.length - SHOWN} more</li>
        )}
      </ul>
    </>
  );
}
