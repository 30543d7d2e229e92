import { useNavigate, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { Badge } from "../parts/badge";
import { Choice } from "../parts/choice";
import { Empty, Fault, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";

type Account = Schemas["AccountLine"];

const columns: Column<Account>[] = [
  {
    id: "person",
    header: "Person",
    accessorKey: "person",
    cell: ({ row }) => (
      <RowLink to={`/people/${row.original.worker}?tab=accounts`}>{row.original.person}</RowLink>
    ),
  },
  { id: "worker", header: "Worker", accessorKey: "worker" },
  { id: "account", header: "Account", accessorKey: "account", wide: true },
  {
    id: "seen",
    header: "Last seen",
    accessorKey: "seenState",
    cell: ({ row }) => <Badge state={row.original.seenState} />,
  },
  {
    id: "state",
    header: "To be",
    accessorFn: (row) => (row.state === row.seenState ? "" : row.state),
  },
  { id: "rights", header: "Rights", accessorKey: "rights" },
];

/** An application's accounts, to the last one. */
export function ApplicationAccounts({ application }: { application: string }) {
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const seen = query.get("seen") ?? "";
  const {
    query: asked,
    rows,
    more,
    complete,
    whole,
  } = usePages(["application-accounts", application, seen], (after) =>
    data(
      api.GET("/api/v1/applications/{key}/accounts", {
        params: { path: { key: application }, query: { seen: seen || undefined, after, limit: 200 } },
      }),
    ),
  );
  return (
    <div className="flex min-h-80 flex-col">
      <div className="mb-3 flex gap-2 pr-20">
        <Choice
          label="Last seen"
          all="However last seen"
          value={seen}
          options={["enabled", "disabled", "none"].map((value) => ({ value, text: value }))}
          onChange={(value) =>
            setQuery(value ? { tab: "accounts", seen: value } : { tab: "accounts" }, { replace: true })
          }
        />
      </div>
      {asked.error && <Fault problem={asked.error} retry={() => void asked.refetch()} />}
      {asked.isPending && !asked.error && <Waiting what="accounts" />}
      {asked.data && rows.length === 0 && <Empty title="No account there is like that." />}
      {rows.length > 0 && (
        <Table
          name="Accounts"
          rows={rows}
          columns={columns}
          open={(row) => void navigate(`/people/${row.worker}?tab=accounts`)}
          more={more}
          complete={complete}
          whole={whole}
        />
      )}
    </div>
  );
}
