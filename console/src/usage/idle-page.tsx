import { useNavigate, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { useNow, useZone } from "../api/session";
import { GroupPages } from "../frame/group-pages";
import { away, day } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Empty, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";
import { Title } from "../parts/title";

type Idle = Schemas["Idle"];

const columns = (zone: string, now: Date): Column<Idle>[] => [
  {
    id: "person",
    header: "Person",
    accessorKey: "person",
    cell: ({ row }) => <RowLink to={`/people/${row.original.worker}`}>{row.original.person}</RowLink>,
  },
  { id: "application", header: "Application", accessorKey: "applicationName" },
  {
    id: "what",
    header: "What",
    accessorFn: (row) => (row.entitlement ? row.name : "the whole account"),
    wide: true,
  },
  { id: "account", header: "Account", accessorKey: "accountName" },
  {
    id: "used",
    header: "Last used",
    accessorFn: (row) => (row.lastUsed ? day(row.lastUsed, zone) : "never seen used"),
  },
  { id: "since", header: "Counts from", accessorFn: (row) => away(row.since, now) },
  { id: "limit", header: "Idle after", accessorFn: (row) => `${row.idleDays} days` },
];

/** What people have and did not use for as long as its application says. */
export function IdlePage() {
  const zone = useZone();
  const now = useNow();
  const navigate = useNavigate();
  const [query] = useSearchParams();
  const application = query.get("application") ?? undefined;
  const pages = usePages(["idle", application], (after) =>
    data(api.GET("/api/v1/idle-access", { params: { query: { application, after, limit: 200 } } })),
  );
  if (pages.query.error) return <PageFault problem={pages.query.error} />;
  if (!pages.query.data) return <Waiting what="what is idle" />;
  return (
    <>
      <GroupPages group="flow" name="Around the flow" />
      <Title strong="Idle">what is held, and was not used for long</Title>
      <div className="mt-4">
        {pages.rows.length === 0 ? (
          <Empty title="Nothing is idle.">
            Where an application says after how many days something is idle, and tells when it is used, what
            was not would stand here.
          </Empty>
        ) : (
          <Table
            name="Idle access"
            rows={pages.rows}
            columns={columns(zone, now)}
            open={(row) => void navigate(`/people/${row.worker}`)}
            more={pages.more}
            complete={pages.complete}
            whole={pages.whole}
          />
        )}
      </div>
    </>
  );
}
