import { useQuery } from "@tanstack/react-query";
import { Suspense } from "react";
import { NavLink, Navigate, Outlet, useLocation } from "react-router";
import { api, data } from "../api/client";
import { useSession, type Session } from "../api/session";
import { QuietLine } from "./quiet-line";
import { Finder } from "../parts/finder";
import { Fault, Waiting } from "../parts/states";
import { Mark } from "./mark";
import { Me } from "./me";
import { places, rooms } from "./rooms";

/** The ribbon and, under it, the page. Nothing is shown to whoever is not signed in. */
export function Frame() {
  const { data: session, error, refetch } = useSession();
  const location = useLocation();
  if (error) {
    return (
      <main className="p-7">
        <Fault problem={error} retry={() => void refetch()} />
      </main>
    );
  }
  if (!session) return <Waiting what="your session" />;
  if (!session.signedIn) {
    return <Navigate to={`/sign-in?to=${encodeURIComponent(location.pathname + location.search)}`} replace />;
  }
  if (session.mustChangePassword) return <Navigate to="/password" replace />;
  return (
    <div className="flex h-dvh flex-col">
      <a
        href="#page"
        className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-raised focus:p-3"
      >
        Skip to the page
      </a>
      <Ribbon session={session} />
      <QuietLine />
      <main
        id="page"
        tabIndex={-1}
        className="flex min-h-0 grow flex-col overflow-y-auto px-4 py-5 outline-none md:px-7"
      >
        <Suspense fallback={<Waiting what="the page" />}>
          <Outlet />
        </Suspense>
      </main>
    </div>
  );
}

const finds = Object.assign({}, ...rooms.map((room) => room.finds)) as Record<
  string,
  (key: string) => string
>;

function Ribbon({ session }: { session: Session }) {
  const { pathname } = useLocation();
  return (
    <header className="flex shrink-0 items-stretch gap-x-3 border-b border-rule px-4 max-md:flex-wrap max-md:pt-2 md:h-[46px] md:px-7">
      <NavLink
        to="/"
        className="flex items-center gap-2 text-lead font-bold no-underline"
        aria-label="Glenmoor, to the first page"
      >
        <Mark />
        <span className="hidden sm:inline">Glenmoor</span>
      </NavLink>
      {/* On a phone the places have a row of their own, and wrap where they do not fit into it. */}
      <nav
        aria-label="Places"
        className="flex items-stretch max-md:order-last max-md:w-full max-md:flex-wrap md:ml-6 md:overflow-x-auto"
      >
        {places(session).map((place) => (
          <NavLink
            key={place.to}
            to={place.to}
            end={place.to === "/"}
            className={({ isActive }) => {
              const here =
                isActive || (place.to !== "/" && place.covers.some((each) => pathname.startsWith(each)));
              return `flex items-center border-b-3 px-3 no-underline max-md:min-h-9 ${here ? "border-accent font-bold" : "border-transparent text-muted hover:text-ink"}`;
            }}
          >
            {place.name}
          </NavLink>
        ))}
      </nav>
      <div className="ml-auto flex items-center gap-3">
        <Finder addresses={finds} />
        <Waits />
        <Me session={session} />
      </div>
    </header>
  );
}

/** How many things wait for whoever is signed in. */
function Waits() {
  const { data: counted } = useQuery({
    queryKey: ["today", "waiting"],
    queryFn: () => data(api.GET("/api/v1/today/waiting")),
    refetchInterval: 15_000,
  });
  const waiting = counted?.waiting ?? 0;
  if (waiting === 0) return null;
  return (
    <NavLink
      to="/"
      className="rounded-sm bg-warning-wash px-2 py-0.5 text-dense whitespace-nowrap text-warning no-underline"
    >
      {waiting} <span className="max-sm:sr-only">{waiting === 1 ? "waits for you" : "wait for you"}</span>
    </NavLink>
  );
}
