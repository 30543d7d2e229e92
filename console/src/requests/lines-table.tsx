import { Link, useNavigate, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { useZone } from "../api/session";
import { Badge } from "../parts/badge";
import { Choice } from "../parts/choice";
import { day } from "../parts/moments";
import { Empty, Fault, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";

type Line = Schemas["RequestLineListed"];

const STATES = ["open", "approved", "declined", "lapsed", "withdrawn", "dropped"];

const columns = (zone: string): Column<Line>[] => [
  {
    id: "name",
    header: "Package",
    accessorKey: "name",
    cell: ({ row }) => <RowLink to={`/requests/${row.original.request}`}>{row.original.name}</RowLink>,
  },
  { id: "for", header: "For", accessorKey: "person" },
  { id: "by", header: "Asked by", accessorKey: "askedBy" },
  { id: "on", header: "On", accessorFn: (row) => day(row.askedAt, zone) },
  {
    id: "state",
    header: "State",
    accessorKey: "state",
    cell: ({ row }) => <Badge state={row.original.state} />,
  },
  {
    id: "reason",
    header: "Why",
    accessorFn: (row) => row.endReason || row.reason,
    wide: true,
  },
];

/** Lines of requests: one's own, or everybody's. */
export function LinesTable({ whose }: { whose: "mine" | "all" }) {
  const zone = useZone();
  const navigate = useNavigate();
  const [query, setQuery] = useSearchParams();
  const state = query.get("state") ?? "";
  const narrow = Object.fromEntries(
    ["offer", "application", "risk", "route", "stage"].flatMap((key) => {
      const value = query.get(key);
      return value ? [[key, value]] : [];
    }),
  );
  const {
    query: asked,
    rows,
    more,
    complete,
    whole,
  } = usePages(
    ["requests", whose, state, narrow],
    (after) =>
      data(
        api.GET("/api/v1/requests", {
          params: {
            query: { whose, state: state || undefined, ...narrow, after, limit: 100 },
          },
        }),
      ),
    { refetchInterval: 10_000 },
  );
  if (asked.error) return <Fault problem={asked.error} retry={() => void asked.refetch()} />;
  if (!asked.data) return <Waiting what="requests" />;
  return (
    <>
      <div className="mb-3">
        <Choice
          label="State"
          all="All states"
          value={state}
          options={STATES.map((value) => ({ value, text: value }))}
          onChange={(value) =>
            setQuery(
              (before) => {
                const after = new URLSearchParams(before);
                if (value) after.set("state", value);
                else after.delete("state");
                return after;
              },
              { replace: true },
            )
          }
        />
      </div>
      {Object.keys(narrow).length > 0 && (
        <p className="mb-3 text-dense text-muted">
          {Object.entries(narrow).map(([key, value]) => (
            <span key={key}>
              {key === "risk" ? "risk at least" : key} <span className="font-mono">{value}</span> ·{" "}
            </span>
          ))}
          <Link to="/requests?tab=all">all of them</Link>
        </p>
      )}
      {rows.length === 0 ? (
        <Empty title="Nothing was asked for.">
          {whose === "mine"
            ? "What you ask for, and what others ask for you, would stand here, with who has to agree."
            : "What anybody asks for would stand here."}
        </Empty>
      ) : (
        <Table
          name="Requests"
          rows={rows}
          columns={columns(zone)}
          open={(row) => void navigate(`/requests/${row.request}`)}
          more={more}
          complete={complete}
          whole={whole}
        />
      )}
    </>
  );
}
