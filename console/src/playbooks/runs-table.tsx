import { useNavigate } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { useNow, useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { away, day } from "../parts/moments";
import { Empty, Fault, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";

type Run = Schemas["RunListed"];

const columns = (zone: string, now: Date, person: boolean): Column<Run>[] => [
  ...(person
    ? [
        {
          id: "person",
          header: "Person",
          accessorKey: "person",
          cell: ({ row }) => (
            <RowLink to={`/playbooks/runs/${row.original.id}`}>{row.original.person}</RowLink>
          ),
        } satisfies Column<Run>,
      ]
    : []),
  {
    id: "playbook",
    header: "Playbook",
    accessorKey: "name",
    cell: ({ row }) =>
      person ? (
        row.original.name
      ) : (
        <RowLink to={`/playbooks/runs/${row.original.id}`}>{row.original.name}</RowLink>
      ),
  },
  { id: "day", header: "About", accessorFn: (row) => day(row.day, zone) },
  {
    id: "state",
    header: "State",
    accessorKey: "state",
    cell: ({ row }) => <Badge state={row.original.state} />,
  },
  { id: "step", header: "Step", accessorFn: (row) => `${row.step} of ${row.steps}` },
  {
    id: "due",
    header: "Next",
    accessorFn: (row) =>
      row.dueAt
        ? `${day(row.dueAt, zone)}, ${away(row.dueAt, now)}`
        : row.endedAt
          ? day(row.endedAt, zone)
          : "",
  },
  { id: "reason", header: "Why", accessorKey: "reason", wide: true },
];

/** Runs of one playbook, or for one person. */
export function RunsTable({
  playbook,
  worker,
  state,
  empty,
}: {
  playbook?: string;
  worker?: string;
  state?: string;
  empty: string;
}) {
  const navigate = useNavigate();
  const zone = useZone();
  const now = useNow();
  const { query, rows, more, complete, whole } = usePages(
    ["runs", playbook, worker, state],
    (after) =>
      data(api.GET("/api/v1/runs", { params: { query: { playbook, worker, state, after, limit: 100 } } })),
    { refetchInterval: 5_000 },
  );
  if (query.error) return <Fault problem={query.error} retry={() => void query.refetch()} />;
  if (!query.data) return <Waiting what="runs" />;
  if (rows.length === 0) return <Empty title={empty} />;
  return (
    <Table
      name="Runs"
      rows={rows}
      columns={columns(zone, now, !worker)}
      open={(row) => void navigate(`/playbooks/runs/${row.id}`)}
      more={more}
      complete={complete}
      whole={whole}
    />
  );
}
