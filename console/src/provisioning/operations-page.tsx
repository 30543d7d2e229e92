import { useMutation } from "@tanstack/react-query";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { beginExport } from "../api/work";
import { GroupPages } from "../frame/group-pages";
import { Badge } from "../parts/badge";
import { Choice } from "../parts/choice";
import { Empty, Fault, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";
import { Title } from "../parts/title";
import { OperationSheet } from "./operation-sheet";
import { useApplications } from "../applications/use-applications";

type Operation = Schemas["Operation"];

const columns: Column<Operation>[] = [
  {
    id: "id",
    header: "Operation",
    accessorKey: "id",
    cell: ({ row }) => (
      <RowLink to={`/operations/${row.original.id}`} className="font-mono text-dense">
        {row.original.id}
      </RowLink>
    ),
  },
  { id: "application", header: "Application", accessorKey: "application" },
  {
    id: "account",
    header: "Account",
    accessorKey: "account",
    cell: ({ row }) => <span className="font-mono text-dense">{row.original.account}</span>,
  },
  { id: "name", header: "Person", accessorKey: "name" },
  {
    id: "what",
    header: "What",
    accessorFn: (each) =>
      `${each.kind.replace("-", " ")} ${(each.command as { entitlement?: string }).entitlement ?? ""}`.trim(),
  },
  {
    id: "state",
    header: "State",
    accessorKey: "state",
    cell: ({ row }) => <Badge state={row.original.state} />,
  },
  { id: "attempts", header: "Tries", accessorKey: "attempts" },
  {
    id: "cause",
    header: "Cause",
    aside: true,
    accessorKey: "cause",
    cell: ({ row }) => <span className="font-mono text-dense text-muted">{row.original.cause}</span>,
  },
  { id: "reason", header: "Reason", accessorKey: "reason", wide: true },
];

/** Every change made, or to be made, in an application. */
export function OperationsPage() {
  const { operation } = useParams();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const state = query.get("state") ?? "";
  const application = query.get("application") ?? "";
  const operations = usePages(
    ["operations", state, application],
    (after) =>
      data(
        api.GET("/api/v1/operations", {
          params: {
            query: { state: state || undefined, application: application || undefined, after, limit: 200 },
          },
        }),
      ),
    { refetchInterval: 10_000 },
  );
  const { query: asked, rows } = operations;
  const exported = useMutation({
    mutationFn: () =>
      beginExport("operations", { ...(state && { state }), ...(application && { application }) }),
    onSuccess: (work) => navigate(`/work/${work.id}`),
  });
  const { data: applications = [] } = useApplications();
  const set = (key: string, value: string) => {
    const after = new URLSearchParams(query);
    if (value) after.set(key, value);
    else after.delete(key);
    setQuery(after, { replace: true });
  };
  return (
    <div className="flex min-h-0 grow flex-col">
      <GroupPages group="flow" name="Around the flow" />
      <Title strong="Operations">every change made in an application, newest first</Title>
      <div className="mt-4 mb-3 flex flex-wrap gap-2 pr-20">
        <Choice
          label="State"
          all="Any state"
          value={state}
          options={["waiting", "confirmed", "fault", "task", "by-hand", "given-up", "superseded"].map(
            (value) => ({
              value,
              text: value.replace("-", " "),
            }),
          )}
          onChange={(value) => set("state", value)}
        />
        <Choice
          label="Application"
          all="All applications"
          value={application}
          options={applications.map((each) => ({ value: each.key, text: each.name }))}
          onChange={(value) => set("application", value)}
        />
      </div>
      {exported.error && <Fault problem={exported.error} />}
      {asked.error && <Fault problem={asked.error} retry={() => void asked.refetch()} />}
      {asked.isPending && !asked.error && <Waiting what="operations" />}
      {asked.data && rows.length === 0 && <Empty title="No operation matches." />}
      {rows.length > 0 && (
        <Table
          name="Operations"
          rows={rows}
          columns={columns}
          open={(row) => navigate(`/operations/${row.id}?${query}`)}
          more={operations.more}
          complete={operations.complete}
          whole={operations.whole}
          everything={() => exported.mutate()}
        />
      )}
      {operation && <OperationSheet id={operation} close={() => navigate(`/operations?${query}`)} />}
    </div>
  );
}
