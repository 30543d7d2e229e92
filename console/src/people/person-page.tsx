import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useSession } from "../api/session";
import { Badge } from "../parts/badge";
import { ButtonLink } from "../parts/button";
import { day } from "../parts/moments";
import { Pairs } from "../parts/sheet";
import { PageFault } from "../parts/page-fault";
import { Waiting } from "../parts/states";
import { Tabs } from "../parts/tabs";
import { Title } from "../parts/title";
import { Holdings } from "../requests/holdings";
import { PersonAccess } from "./person-access";
import { PersonAccounts } from "./person-accounts";
import { PersonHistory } from "./person-history";
import { PersonRuns } from "./person-runs";
import { PersonWhatIf } from "./person-what-if";
import { texts, useFacts, type Fact } from "./use-facts";

/** One person: who they are, what they have through time, and why. */
export function PersonPage() {
  const { worker = "" } = useParams();
  const [query, setQuery] = useSearchParams();
  const { data: session } = useSession();
  const facts = useFacts();
  const path = { worker };
  const person = useQuery({
    queryKey: ["person", worker],
    queryFn: () => data(api.GET("/api/v1/people/{worker}", { params: { path } })),
  });
  const accounts = useQuery({
    queryKey: ["accounts", worker],
    queryFn: () => data(api.GET("/api/v1/people/{worker}/accounts", { params: { path } })),
    refetchInterval: 5_000,
  });
  if (person.error) return <PageFault problem={person.error} retry={() => void person.refetch()} />;
  if (!person.data) return <Waiting what="the person" />;
  const shown = person.data;
  const { standing } = shown.person;
  const choose = (key: string, value: string) =>
    setQuery(
      (before) => {
        const after = new URLSearchParams(before);
        after.set(key, value);
        return after;
      },
      { replace: true },
    );
  const history = may(session, "read-ledger");
  return (
    <>
      <Title
        strong={shown.person.name}
        actions={
          may(session, "cut-off") &&
          session?.worker !== worker &&
          standing !== "left" && (
            <ButtonLink kind="danger" to={`/cut-off/${worker}`}>
              Cut off now
            </ButtonLink>
          )
        }
      >
        {sentence(shown, facts)}
      </Title>
      <Line shown={shown} facts={facts} />
      <Tabs
        value={query.get("tab") ?? "access"}
        onChange={(tab) => choose("tab", tab)}
        tabs={[
          {
            key: "access",
            name: "Access through time",
            content: (
              <>
                <PersonAccess
                  worker={worker}
                  accounts={accounts.data ?? []}
                  why={query.get("why") ?? ""}
                  choose={(key) => choose("why", key)}
                />
                <Holdings worker={worker} own={session?.worker === worker} />
              </>
            ),
          },
          {
            key: "accounts",
            name: "Accounts",
            count: accounts.data?.filter(
              (account) => account.seenState !== "none" || account.state !== "none",
            ).length,
            content: <PersonAccounts accounts={accounts.data ?? []} worker={worker} />,
          },
          {
            key: "facts",
            name: "Facts",
            content: <Pairs pairs={shown.facts.map((fact) => [fact.name, fact.value])} />,
          },
          ...(may(session, "see-everybody")
            ? [
                {
                  key: "what-if",
                  name: "What if",
                  content: (
                    <PersonWhatIf
                      worker={worker}
                      facts={facts}
                      now={Object.fromEntries(shown.facts.map((fact) => [fact.key, fact.value]))}
                    />
                  ),
                },
              ]
            : []),
          ...(may(session, "see-playbooks")
            ? [{ key: "runs", name: "Playbooks", content: <PersonRuns worker={worker} /> }]
            : []),
          ...(history
            ? [{ key: "history", name: "History", content: <PersonHistory worker={worker} /> }]
            : []),
        ]}
      />
    </>
  );
}

function sentence(shown: Schemas["PersonShown"], facts: Fact[]): string {
  const standing = shown.person.waits
    ? "waits until somebody agrees"
    : shown.person.standing.replace("-", " ");
  return [standing, ...texts(facts, "title", shown.person.facts)].join(", ");
}

function Line({ shown, facts }: { shown: Schemas["PersonShown"]; facts: Fact[] }) {
  const { worker, startsOn, endsOn, standing } = shown.person;
  return (
    <div className="mt-1 flex flex-wrap items-center gap-x-5 gap-y-1 text-dense text-muted">
      <Badge state={standing} />
      <span className="font-mono">{worker}</span>
      {texts(facts, "subtitle", shown.person.facts).map((text) => (
        <span key={text}>{text}</span>
      ))}
      {shown.manager ? (
        <span>
          reports to{" "}
          {shown.manager.seen ? (
            <Link to={`/people/${shown.manager.worker}`}>{shown.manager.name}</Link>
          ) : (
            shown.manager.name
          )}
        </span>
      ) : (
        <span>reports to nobody</span>
      )}
      {startsOn && (
        <span>{standing === "expected" ? `starts ${day(startsOn)}` : `here since ${day(startsOn)}`}</span>
      )}
      {shown.missingFeeds > 0 && (
        <span className="text-warning">
          not named by{" "}
          {shown.missingFeeds === 1 ? "the last full feed" : `the last ${shown.missingFeeds} full feeds`}
        </span>
      )}
      {endsOn && <span>last day {day(endsOn)}</span>}
      {shown.reports > 0 && <span>{shown.reports === 1 ? "1 report" : `${shown.reports} reports`}</span>}
    </div>
  );
}
