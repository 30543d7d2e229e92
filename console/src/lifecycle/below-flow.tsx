import { NavLink } from "react-router";
import { may, useSession, type Permission } from "../api/session";

const pages: { to: string; name: string; needs: Permission }[] = [
  { to: "/flow", name: "Flow", needs: "see-feeds" },
  { to: "/feeds", name: "Feeds", needs: "see-feeds" },
  { to: "/held", name: "Held", needs: "see-held-changes" },
  { to: "/applications", name: "Applications", needs: "see-applications" },
  { to: "/operations", name: "Operations", needs: "see-applications" },
];

/** The pages around the flow that somebody may see: what comes in, what is on its way, and where it goes. */
export function BelowFlow() {
  const { data: session } = useSession();
  return (
    <nav aria-label="Around the flow" className="mb-3 flex gap-4 text-dense">
      {pages
        .filter((page) => may(session, page.needs))
        .map(({ to, name }) => (
          <NavLink
            key={to}
            to={to}
            className={({ isActive }) =>
              isActive ? "font-bold" : "text-muted no-underline hover:text-ink hover:underline"
            }
          >
            {name}
          </NavLink>
        ))}
    </nav>
  );
}
