import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { useZone } from "../api/session";
import { day } from "../parts/moments";
import { Empty, Fault, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";
import { Title } from "../parts/title";

type Trouble = Schemas["Trouble"];

const columns = (zone: string): Column<Trouble>[] => [
  {
    id: "name",
    header: "Person",
    accessorKey: "name",
    cell: ({ row }) => <RowLink to={`/people/${row.original.worker}`}>{row.original.name}</RowLink>,
  },
  { id: "worker", header: "Worker", accessorKey: "worker" },
  { id: "place", header: "Where", accessorFn: (row) => row.place || "all of it" },
  { id: "since", header: "Since", accessorFn: (row) => day(row.since, zone) },
  { id: "sentence", header: "What cannot be computed", accessorKey: "sentence", wide: true },
];

/** People about whom something could not be computed; they keep what they have. */
export function WorkListPage() {
  const zone = useZone();
  const navigate = useNavigate();
  const list = useQuery({
    queryKey: ["work-list"],
    queryFn: async () => (await data(api.GET("/api/v1/work-list"))).items,
    refetchInterval: 15_000,
  });
  return (
    <div className="flex min-h-0 grow flex-col">
      <Title strong="Work list">people about whom something cannot be computed keep what they have</Title>
      <div className="mt-4 flex min-h-0 grow flex-col">
        {list.error && <Fault problem={list.error} retry={() => void list.refetch()} />}
        {list.isPending && !list.error && <Waiting what="the work list" />}
        {list.data?.length === 0 && (
          <Empty title="Everybody could be planned for.">
            A condition or mapping that fails for somebody would stand here with its sentence, until a fact or
            the definition is mended.
          </Empty>
        )}
        {list.data && list.data.length > 0 && (
          <Table
            name="Work list"
            rows={list.data}
            columns={columns(zone)}
            open={(row) => navigate(`/people/${row.worker}`)}
          />
        )}
      </div>
    </div>
  );
}
