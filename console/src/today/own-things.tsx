import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { day } from "../parts/moments";
import { Holdings, OpenAsks } from "../requests/holdings";
import { Heading } from "../parts/title";

/** What somebody has, and who reports to them: the Today of whoever looks after nothing else. */
export function OwnThings({ worker }: { worker: string }) {
  return (
    <>
      <OpenAsks />
      <Holdings worker={worker} own />
      <OwnAccounts worker={worker} />
      <OwnReports worker={worker} />
    </>
  );
}

function OwnAccounts({ worker }: { worker: string }) {
  const zone = useZone();
  const { data: accounts } = useQuery({
    queryKey: ["accounts", worker],
    queryFn: () => data(api.GET("/api/v1/people/{worker}/accounts", { params: { path: { worker } } })),
  });
  const mine = accounts?.filter((account) => account.seenState !== "none" || account.state !== "none");
  if (!mine) return null;
  return (
    <>
      <Heading aside={<Link to={`/people/${worker}`}>through time, and why</Link>}>What you have</Heading>
      {mine.length === 0 && (
        <p className="border-y border-rule py-4 text-muted">
          You have no account yet. Those that come with your work are made before your first day.
        </p>
      )}
      <ul>
        {mine.map((account) => (
          <li
            key={account.application}
            className="grid gap-x-5 border-t border-rule py-2 md:grid-cols-[minmax(10rem,18rem)_1fr]"
          >
            <div>
              <div className="flex items-center gap-2">
                {account.applicationName}
                {account.seenState !== "enabled" && (
                  <Badge state={account.seenState === "none" ? "waiting" : account.seenState} />
                )}
              </div>
              <div className="font-mono text-dense text-muted">{account.name}</div>
            </div>
            <ul className="flex flex-wrap gap-x-5">
              {account.holdings.map((holding) => (
                <li key={holding.entitlement}>
                  {holding.name}
                  {holding.observedSince && (
                    <span className="ml-2 text-dense text-muted">
                      since {day(holding.observedSince, zone)}
                    </span>
                  )}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
    </>
  );
}

function OwnReports({ worker }: { worker: string }) {
  const { data: people } = useQuery({
    queryKey: ["own-reports"],
    queryFn: () => data(api.GET("/api/v1/people", { params: { query: { limit: 100 } } })),
  });
  const reports = people?.items.filter((person) => person.worker !== worker) ?? [];
  if (reports.length === 0) return null;
  return (
    <>
      <Heading aside={String(reports.length)}>Who reports to you</Heading>
      <ul className="border-t border-rule">
        {reports.map((person) => (
          <li key={person.worker} className="flex flex-wrap items-center gap-x-4 border-b border-rule py-1.5">
            <Link to={`/people/${person.worker}`}>{person.name}</Link>
            <Badge state={person.standing} />
            <span className="ml-auto font-mono text-dense text-muted">{person.worker}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
