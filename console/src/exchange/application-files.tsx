import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { may, useNow, useSession, useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { Button } from "../parts/button";
import { away, count, day, time } from "../parts/moments";
import { Empty, Fault, Waiting } from "../parts/states";
import { Table, type Column } from "../parts/table";

type OrderFile = Schemas["OrderFile"];

/** The files exchanged with an application that takes its changes as files. */
export function ApplicationFiles({ application }: { application: string }) {
  const now = useNow();
  const zone = useZone();
  const client = useQueryClient();
  const { data: session } = useSession();
  const { query, rows, more, complete, whole } = usePages(["application-files", application], (after) =>
    data(
      api.GET("/api/v1/applications/{key}/files", {
        params: { path: { key: application }, query: { after, limit: 100 } },
      }),
    ),
  );
  const write = useMutation({
    mutationFn: () =>
      data(api.POST("/api/v1/applications/{key}/files", { params: { path: { key: application } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["application-files", application] }),
  });
  const columns: Column<OrderFile>[] = [
    {
      id: "name",
      header: "File",
      accessorKey: "name",
      wide: true,
      cell: ({ row }) => <span className="font-mono text-dense">{row.original.name}</span>,
    },
    { id: "rows", header: "Accounts in it", accessorKey: "rows" },
    {
      id: "written",
      header: "Written",
      accessorFn: (row) => `${day(row.writtenAt, zone)} ${time(row.writtenAt, zone)}`,
    },
    { id: "by", header: "By", accessorKey: "writtenBy" },
    {
      id: "answered",
      header: "Answered",
      accessorFn: (row) => row.answeredAt ?? "",
      cell: ({ row: { original } }) =>
        original.answeredAt ? (
          <Badge state={original.problems > 0 ? "problems" : "answered"}>
            {original.problems > 0
              ? count(original.problems, "problem", "problems")
              : `with ${count(original.accounts, "account", "accounts")}`}
          </Badge>
        ) : (
          <Badge state="unanswered">{`not yet, ${away(original.writtenAt, now)}`}</Badge>
        ),
    },
  ];
  return (
    <div className="flex min-h-80 flex-col">
      <div className="mb-3 flex items-baseline gap-4 pr-20">
        {may(session, "decide-operations") && (
          <Button disabled={write.isPending} onClick={() => write.mutate()}>
            Write a file now
          </Button>
        )}
        <p className="text-muted">What waits is written to one file; its answer says what came of it.</p>
      </div>
      {write.error && <Fault problem={write.error} />}
      {query.error && <Fault problem={query.error} retry={() => void query.refetch()} />}
      {query.isPending && !query.error && <Waiting what="files" />}
      {query.data && rows.length === 0 && (
        <Empty title="No file was written for it yet. The first comes with its schedule, once something waits." />
      )}
      {rows.length > 0 && (
        <Table
          name={`Files for ${application}`}
          rows={rows}
          columns={columns}
          more={more}
          complete={complete}
          whole={whole}
        />
      )}
    </div>
  );
}
