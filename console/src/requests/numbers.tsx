import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { useNow } from "../api/session";
import { away } from "../parts/moments";
import { Empty, Fault, Waiting } from "../parts/states";
import { Table, type Column } from "../parts/table";

type Row = Schemas["Numbers"];

const HOUR = 3_600;

/** How long something took, from seconds: 40 min, 5 h, 3 days. */
function lasted(seconds: number): string {
  if (seconds < HOUR) return `${Math.max(1, Math.round(seconds / 60))} min`;
  if (seconds < 48 * HOUR) return `${Math.round(seconds / HOUR)} h`;
  return `${Math.round(seconds / (24 * HOUR))} days`;
}

const leads = (row: Row, state: string, number: number) =>
  number === 0 ? (
    <span className="text-muted">0</span>
  ) : (
    <Link to={`/requests?tab=all&state=${state}&offer=${row.of.offer}`}>{number}</Link>
  );

const columns = (now: Date): Column<Row>[] => [
  { id: "name", header: "Offer", accessorKey: "name", wide: true },
  {
    id: "open",
    header: "Open",
    accessorFn: (row) => row.of.open,
    cell: ({ row }) => leads(row.original, "open", row.original.of.open),
  },
  {
    id: "oldest",
    header: "The oldest",
    accessorFn: (row) => (row.of.oldest ? away(row.of.oldest, now) : ""),
  },
  {
    id: "approved",
    header: "Approved",
    accessorFn: (row) => row.of.approved,
    cell: ({ row }) => leads(row.original, "approved", row.original.of.approved),
  },
  {
    id: "took",
    header: "Half of them within",
    accessorFn: (row) => (row.of.medianSeconds == null ? "" : lasted(Number(row.of.medianSeconds))),
  },
  {
    id: "declined",
    header: "Declined",
    accessorFn: (row) => row.of.declined,
    cell: ({ row }) => leads(row.original, "declined", row.original.of.declined),
  },
  {
    id: "lapsed",
    header: "Lapsed",
    accessorFn: (row) => row.of.lapsed,
    cell: ({ row }) => leads(row.original, "lapsed", row.original.of.lapsed),
  },
];

/** How the asks under each offer fare; each number leads to its list. */
export function RequestNumbers() {
  const now = useNow();
  const { data: rows, error } = useQuery({
    queryKey: ["request-numbers"],
    queryFn: () => data(api.GET("/api/v1/requests/numbers")),
    refetchInterval: 30_000,
  });
  if (error) return <Fault problem={error} />;
  if (!rows) return <Waiting what="the numbers" />;
  if (rows.length === 0) {
    return (
      <Empty title="Nothing was asked for.">How long asks wait, and how they end, would stand here.</Empty>
    );
  }
  return <Table name="Requests by offer" rows={rows} columns={columns(now)} whole />;
}
