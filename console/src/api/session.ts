import { useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "./client";

export type Session = Schemas["Session"];

export const sessionKey = ["session"];

/** Who is signed in. */
export function useSession() {
  return useQuery({
    queryKey: sessionKey,
    queryFn: async () => {
      const session = await data(api.GET("/api/v1/session"));
      return { ...session, fetchedAt: Date.now() };
    },
    staleTime: 30_000,
    refetchInterval: 30_000,
  });
}

/** What time it is for the service, which in a demo is not the time of this machine. */
export function useNow(): Date {
  const { data: session } = useSession();
  if (!session) return new Date();
  return new Date(Date.parse(session.now) + (Date.now() - session.fetchedAt));
}

export function useZone(): string {
  return useSession().data?.zone ?? "UTC";
}

/** What somebody may do, by the service's own words for it. */
export type Permission =
  | "see-everybody"
  | "load-feeds"
  | "load-definitions"
  | "see-definitions"
  | "see-feeds"
  | "see-held-changes"
  | "decide-held-changes"
  | "see-applications"
  | "decide-operations"
  | "reconcile"
  | "decide-drift"
  | "cut-off"
  | "issue-passcodes"
  | "see-playbooks"
  | "play-playbooks"
  | "see-letters"
  | "send-letters"
  | "see-portfolios"
  | "bundle"
  | "tend-portfolios"
  | "see-requests"
  | "see-conflicts"
  | "exempt"
  | "see-campaigns"
  | "lead-campaigns"
  | "release-revoked"
  | "decide-in-place"
  | "read-ledger"
  | "release-installation";

/** Whether somebody may do this somewhere; the service decides each time where. */
export function may(session: Session | undefined, permission: Permission | undefined): boolean {
  return !!session && !!permission && session.permissions.includes(permission);
}
