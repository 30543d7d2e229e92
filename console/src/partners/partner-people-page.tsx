import { Link, useNavigate, useParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { day } from "../parts/moments";
import { PageFault } from "../parts/page-fault";
import { Empty, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";
import { Title } from "../parts/title";

type Person = Schemas["PartnerPerson"];

const states: Record<string, string> = {
  waits: "waits for somebody",
  counts: "counts",
  here: "here before",
  "does-not": "never came",
};

const columns = (zone: string): Column<Person>[] => [
  {
    id: "name",
    header: "Name",
    accessorFn: (row) => row.name || row.mail,
    cell: ({ row }) => (
      <RowLink to={`/people/${row.original.worker}`}>{row.original.name || row.original.mail}</RowLink>
    ),
  },
  { id: "worker", header: "Worker number", accessorKey: "worker" },
  { id: "mail", header: "Address", accessorKey: "mail", wide: true },
  {
    id: "state",
    header: "State",
    accessorKey: "state",
    cell: ({ row }) => (
      <Badge state={row.original.state}>{states[row.original.state] ?? row.original.state}</Badge>
    ),
  },
  {
    id: "terms",
    header: "Accepted",
    accessorFn: (row) =>
      row.terms ? `${row.terms}, version ${row.termsVersion}, ${day(row.acceptedAt, zone)}` : "nothing",
  },
  {
    id: "request",
    header: "Request",
    accessorFn: (row) => row.request ?? "",
    cell: ({ row }) =>
      row.original.request ? <Link to={`/requests/${row.original.request}`}>what they asked for</Link> : null,
  },
];

/** Who of a partner organisation asked by its link, and what came of it. */
export function PartnerPeoplePage() {
  const { organisation: key = "" } = useParams();
  const zone = useZone();
  const navigate = useNavigate();
  const pages = usePages(["partner-people", key], (after) =>
    data(
      api.GET("/api/v1/partner-organisations/{key}/people", {
        params: { path: { key }, query: { after, limit: 200 } },
      }),
    ),
  );
  if (pages.query.error) return <PageFault problem={pages.query.error} />;
  if (!pages.query.data) return <Waiting what="who asked" />;
  return (
    <>
      <Title strong={key}>who asked by its link and confirmed their address</Title>
      <p className="mt-1 mb-4 text-dense">
        <Link to="/partners">All partner organisations</Link>
      </p>
      {pages.rows.length === 0 ? (
        <Empty title="Nobody has asked.">
          Whoever follows the link and confirms their address would stand here.
        </Empty>
      ) : (
        <Table
          name="Partners"
          rows={pages.rows}
          columns={columns(zone)}
          open={(row) => void navigate(`/people/${row.worker}`)}
          more={pages.more}
          complete={pages.complete}
          whole={pages.whole}
        />
      )}
    </>
  );
}
