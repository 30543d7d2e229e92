import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { useZone } from "../api/session";
import { useApplications } from "../applications/use-applications";
import { GroupPages } from "../frame/group-pages";
import { Badge } from "../parts/badge";
import { Choice } from "../parts/choice";
import { day, time } from "../parts/moments";
import { Empty, Fault, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";
import { Title } from "../parts/title";
import { DriftSheet } from "./drift-sheet";
import { inOneLine, kinds } from "./kinds";

type Drift = Schemas["DriftShown"];

const columns = (zone: string): Column<Drift>[] => [
  {
    id: "account",
    header: "Account",
    accessorKey: "account",
    cell: ({ row }) => (
      <RowLink to={`/drift/${row.original.id}`} className="font-mono text-dense">
        {row.original.account || row.original.nativeId}
      </RowLink>
    ),
  },
  {
    id: "kind",
    header: "Drift",
    accessorKey: "kind",
    cell: ({ row }) => <Badge state={row.original.kind}>{kinds[row.original.kind]}</Badge>,
  },
  { id: "application", header: "Application", accessorKey: "application" },
  { id: "name", header: "Person", accessorFn: (row) => row.name ?? "nobody's" },
  { id: "differs", header: "Should be → is", accessorFn: inOneLine, wide: true },
  { id: "response", header: "By itself", accessorKey: "response" },
  {
    id: "seen",
    header: "First seen",
    accessorFn: (row) => `${day(row.firstSeenAt, zone)} ${time(row.firstSeenAt, zone)}`,
  },
  { id: "outcome", header: "Outcome", accessorKey: "outcome", aside: true },
  { id: "reason", header: "Reason", accessorKey: "reason", aside: true },
];

/** How applications differ from what is expected of them. */
export function DriftPage() {
  const { drift } = useParams();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const zone = useZone();
  const state = query.get("state") ?? "open";
  const kind = query.get("kind") ?? "";
  const application = query.get("application") ?? "";
  const response = query.get("response") ?? "";
  const { data: applications = [] } = useApplications();
  const {
    query: asked,
    rows,
    more,
    complete,
    whole,
  } = usePages(
    ["drift", state, kind, application, response],
    (after) =>
      data(
        api.GET("/api/v1/drift", {
          params: {
            query: {
              state: state === "any" ? undefined : state,
              kind: kind || undefined,
              application: application || undefined,
              response: response || undefined,
              after,
              limit: 200,
            },
          },
        }),
      ),
    { refetchInterval: 10_000 },
  );
  const set = (key: string, value: string) => {
    const after = new URLSearchParams(query);
    if (value) after.set(key, value);
    else after.delete(key);
    setQuery(after, { replace: true });
  };
  return (
    <div className="flex min-h-0 grow flex-col">
      <GroupPages group="flow" name="Around the flow" />
      <Title strong="Drift">what was changed in applications behind Glenmoor’s back</Title>
      <div className="mt-4 mb-3 flex flex-wrap gap-2 pr-20">
        <Choice
          label="State"
          all="Open and settled"
          value={state === "any" ? "" : state}
          options={["open", "settled"].map((value) => ({ value, text: value }))}
          onChange={(value) => set("state", value || "any")}
        />
        <Choice
          label="Kind"
          all="Any kind"
          value={kind}
          options={Object.entries(kinds).map(([value, text]) => ({ value, text }))}
          onChange={(value) => set("kind", value)}
        />
        <Choice
          label="Application"
          all="All applications"
          value={application}
          options={applications.map((each) => ({ value: each.key, text: each.name }))}
          onChange={(value) => set("application", value)}
        />
        <Choice
          label="By itself"
          all="Whatever is done by itself"
          value={response}
          options={["report", "repair", "adopt", "ask"].map((value) => ({ value, text: value }))}
          onChange={(value) => set("response", value)}
        />
      </div>
      {asked.error && <Fault problem={asked.error} retry={() => void asked.refetch()} />}
      {asked.isPending && !asked.error && <Waiting what="drift" />}
      {asked.data && rows.length === 0 && (
        <Empty
          title={
            state === "open" ? "Nothing differs, as far as the last reconciles saw." : "Nothing matches."
          }
        >
          An application is compared when its definition says so, or on its page under <em>Reconcile now</em>.
        </Empty>
      )}
      {rows.length > 0 && (
        <Table
          name="Drift"
          rows={rows}
          columns={columns(zone)}
          open={(row) => navigate(`/drift/${row.id}?${query}`)}
          more={more}
          complete={complete}
          whole={whole}
        />
      )}
      {drift && <DriftSheet id={drift} close={() => navigate(`/drift?${query}`)} />}
    </div>
  );
}
