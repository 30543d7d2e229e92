import { NavLink } from "react-router";
import { may, useSession } from "../api/session";

/** The pages around the flow: what comes in, what is on its way, and where it goes. */
export function BelowFlow() {
  const { data: session } = useSession();
  const all = may(session, "see-applications");
  const pages = [
    ["/flow", "Flow"],
    ["/feeds", "Feeds"],
    ["/held", "Held"],
    ...(all ? [["/applications", "Applications"] as const, ["/operations", "Operations"] as const] : []),
  ] as const;
  return (
    <nav aria-label="Around the flow" className="mb-3 flex gap-4 text-dense">
      {pages.map(([to, name]) => (
        <NavLink
          key={to}
          to={to}
          className={({ isActive }) =>
            isActive ? "font-bold" : "text-stone no-underline hover:text-ink hover:underline"
          }
        >
          {name}
        </NavLink>
      ))}
    </nav>
  );
}
