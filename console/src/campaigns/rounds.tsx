import { useNavigate } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { day } from "../parts/moments";
import { Fault, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";

type Round = Schemas["RoundListed"];

const columns = (zone: string): Column<Round>[] => [
  {
    id: "name",
    header: "Campaign",
    accessorKey: "name",
    cell: ({ row }) => (
      <RowLink to={`/campaigns/rounds/${row.original.id}`}>
        {row.original.name}
        {row.original.about && `: ${row.original.about}`}
      </RowLink>
    ),
  },
  {
    id: "state",
    header: "State",
    accessorKey: "state",
    cell: ({ row }) => <Badge state={row.original.state} />,
  },
  { id: "items", header: "Items", accessorKey: "items" },
  { id: "people", header: "People", accessorKey: "people" },
  { id: "asOf", header: "As of", accessorFn: (row) => day(row.asOf, zone) },
  { id: "dueAt", header: "Over on", accessorFn: (row) => day(row.dueAt, zone) },
  { id: "why", header: "Why", accessorKey: "endReason", wide: true },
];

/** Rounds of all campaigns that somebody sees. */
export function Rounds() {
  const zone = useZone();
  const navigate = useNavigate();
  const pages = usePages(
    ["rounds"],
    (after) => data(api.GET("/api/v1/rounds", { params: { query: { after, limit: 100 } } })),
    { refetchInterval: 10_000 },
  );
  if (pages.query.error) return <Fault problem={pages.query.error} />;
  if (!pages.query.data) return <Waiting what="rounds" />;
  if (pages.rows.length === 0) {
    return <p className="text-muted">There was none yet: rehearse a campaign, then launch it.</p>;
  }
  return (
    <Table
      name="Rounds"
      rows={pages.rows}
      columns={columns(zone)}
      open={(row) => void navigate(`/campaigns/rounds/${row.id}`)}
      more={pages.more}
      complete={pages.complete}
      whole={pages.whole}
    />
  );
}
