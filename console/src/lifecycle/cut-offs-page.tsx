import { useNavigate } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { may, useSession, useZone } from "../api/session";
import { GroupPages } from "../frame/group-pages";
import { day, time } from "../parts/moments";
import { PersonChoice } from "../parts/person-choice";
import { Empty, Fault, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";
import { Heading, Title } from "../parts/title";

type CutOff = Schemas["CutOffShown"];

const columns = (zone: string): Column<CutOff>[] => [
  {
    id: "name",
    header: "Person",
    accessorKey: "name",
    cell: ({ row }) => <RowLink to={`/cut-off/${row.original.worker}`}>{row.original.name}</RowLink>,
  },
  { id: "worker", header: "Worker", accessorKey: "worker" },
  {
    id: "at",
    header: "Cut off",
    accessorFn: (row) => `${day(row.at, zone)} ${time(row.at, zone)}`,
  },
  { id: "by", header: "By", accessorKey: "by" },
  { id: "reason", header: "Reason", accessorKey: "reason", wide: true },
];

/** Who is cut off, and the way to cut off somebody else. */
export function CutOffsPage() {
  const navigate = useNavigate();
  const zone = useZone();
  const { data: session } = useSession();
  const { query, rows, more, complete, whole } = usePages(
    ["cut-offs"],
    (after) => data(api.GET("/api/v1/cut-offs", { params: { query: { after, limit: 200 } } })),
    { refetchInterval: 10_000 },
  );
  return (
    <div className="flex min-h-0 grow flex-col">
      <GroupPages group="flow" name="Around the flow" />
      <Title strong="Cut off">who must go this minute, whatever their source says</Title>
      {may(session, "cut-off") && (
        <>
          <Heading aside="nothing happens yet: what would go is shown first">Whom?</Heading>
          <PersonChoice label="Who must go" choose={(worker) => void navigate(`/cut-off/${worker}`)} />
        </>
      )}
      <Heading aside="their source does not say so yet">Cut off now</Heading>
      {query.error && <Fault problem={query.error} retry={() => void query.refetch()} />}
      {query.isPending && !query.error && <Waiting what="who is cut off" />}
      {query.data && rows.length === 0 && (
        <Empty title="Nobody is cut off.">
          Whoever is cut off stands here until their source says that they have left, or somebody brings them
          back.
        </Empty>
      )}
      {rows.length > 0 && (
        <Table
          name="Cut off"
          rows={rows}
          columns={columns(zone)}
          open={(row) => void navigate(`/cut-off/${row.worker}`)}
          more={more}
          complete={complete}
          whole={whole}
        />
      )}
    </div>
  );
}
