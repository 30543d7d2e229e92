import { NavLink } from "react-router";
import { useSession } from "../api/session";
import { pagesOf } from "./rooms";

/** The pages that share a place in the ribbon, as far as somebody may see them. */
export function GroupPages({ group, name }: { group: string; name: string }) {
  const { data: session } = useSession();
  return (
    <nav aria-label={name} className="mb-3 flex gap-4 text-dense">
      {pagesOf(group, session).map((page) => (
        <NavLink
          key={page.to}
          to={page.to}
          className={({ isActive }) =>
            isActive ? "font-bold" : "text-muted no-underline hover:text-ink hover:underline"
          }
        >
          {page.name}
        </NavLink>
      ))}
    </nav>
  );
}
