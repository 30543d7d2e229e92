import { useQuery } from "@tanstack/react-query";
import { useParams, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { may, useSession } from "../api/session";
import { ApplicationFiles } from "../exchange/application-files";
import { GroupPages } from "../frame/group-pages";
import { Badge } from "../parts/badge";
import { count, day } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Empty, Waiting } from "../parts/states";
import { Table, type Column } from "../parts/table";
import { Tabs } from "../parts/tabs";
import { Heading, Title } from "../parts/title";
import { ApplicationAccounts } from "./application-accounts";
import { ApplicationState } from "./application-state";
import { MappingPreview } from "./mapping-preview";
import { useApplications } from "./use-applications";

type Detail = Schemas["ApplicationDetail"];
type Right = Schemas["RightLine"];

const rightColumns: Column<Right>[] = [
  { id: "name", header: "Right", accessorKey: "name" },
  { id: "holders", header: "Accounts", accessorKey: "holders" },
  {
    id: "packages",
    header: "Given by",
    accessorFn: (row) => row.packages.join(", ") || "nothing",
    wide: true,
  },
  { id: "kind", header: "Kind", accessorKey: "kind" },
  { id: "technical", header: "There called", accessorKey: "technicalName" },
  { id: "key", header: "Key", accessorKey: "key", aside: true },
];

/** One application: how it is, who has what there, how it is looked after, and what comes. */
export function ApplicationPage() {
  const { application = "" } = useParams();
  const [query, setQuery] = useSearchParams();
  const { data: session } = useSession();
  const all = useApplications({ refetchInterval: 5_000 });
  const detail = useQuery({
    queryKey: ["application", application],
    queryFn: () => data(api.GET("/api/v1/applications/{key}", { params: { path: { key: application } } })),
  });
  if (detail.error) return <PageFault problem={detail.error} retry={() => void detail.refetch()} />;
  const summary = all.data?.find((each) => each.key === application);
  if (!detail.data || !summary) return <Waiting what="the application" />;
  const shown = detail.data;
  return (
    <div className="flex min-h-0 grow flex-col">
      <GroupPages group="flow" name="Around the flow" />
      <Title strong={shown.name}>{summary.sentence}</Title>
      <div className="mt-1 flex flex-wrap items-center gap-x-5 gap-y-1 text-dense text-muted">
        <Badge state={summary.health} />
        <span className="font-mono">{shown.key}</span>
        <span>by {shown.connector}</span>
        <span>
          {count(summary.accounts, "account", "accounts")}, {summary.enabled} enabled
        </span>
        {summary.waiting > 0 && <span className="text-warning">{summary.waiting} waiting</span>}
        {summary.faults > 0 && (
          <span className="text-danger">{count(summary.faults, "fault", "faults")}</span>
        )}
      </div>
      <Tabs
        value={query.get("tab") ?? "state"}
        onChange={(tab) => setQuery({ tab }, { replace: true })}
        tabs={[
          { key: "state", name: "How it is", content: <ApplicationState application={summary} /> },
          {
            key: "accounts",
            name: "Accounts",
            count: summary.accounts,
            content: <ApplicationAccounts application={application} />,
          },
          {
            key: "rights",
            name: "Rights",
            count: shown.rights.length,
            content:
              shown.rights.length === 0 ? (
                <Empty title="No right there is defined yet." />
              ) : (
                <Table name={`Rights in ${shown.name}`} rows={shown.rights} columns={rightColumns} whole />
              ),
          },
          ...(shown.connector === "files"
            ? [{ key: "files", name: "Files", content: <ApplicationFiles application={application} /> }]
            : []),
          { key: "care", name: "Care and what comes", content: <Care shown={shown} /> },
          ...(may(session, "see-everybody")
            ? [{ key: "mapping", name: "Mapping", content: <MappingPreview application={application} /> }]
            : []),
        ]}
      />
    </div>
  );
}

const comes: Record<string, (number: number) => string> = {
  deleted: (number) => `${count(number, "account", "accounts")} deleted, held long enough`,
  ending: (number) => `${count(number, "grant ends", "grants end")}`,
};

function Care({ shown }: { shown: Detail }) {
  return (
    <>
      <Heading>How accounts are looked after</Heading>
      <ul className="border-t border-rule">
        {shown.care.map((each) => (
          <li key={each} className="border-b border-rule py-1.5">
            {each}
          </li>
        ))}
        {shown.after.length > 0 && (
          <li className="border-b border-rule py-1.5">uses account names of {shown.after.join(", ")}</li>
        )}
      </ul>
      <Heading>The next thirty days</Heading>
      {shown.coming.length === 0 ? (
        <Empty title="Nothing is due there." />
      ) : (
        <ul className="border-t border-rule">
          {shown.coming.map((each) => (
            <li key={each.day + each.what} className="flex gap-5 border-b border-rule py-1.5">
              <span className="w-28 text-muted">{day(each.day)}</span>
              <span>{comes[each.what]?.(each.number)}</span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
