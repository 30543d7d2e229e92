import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { useNow } from "../api/session";
import { away } from "../parts/moments";
import { Empty, Fault, Waiting } from "../parts/states";
import { Table, type Column } from "../parts/table";
import { Heading } from "../parts/title";
import { decidersOf, lasted } from "./words";

type Row = Schemas["Numbers"];

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

const to = (number: number, where: string) =>
  number === 0 ? <span className="text-muted">0</span> : <Link to={where}>{number}</Link>;

type Stage = Schemas["AtStage"];

const atStage = (row: Stage, state: string) =>
  `/requests?tab=all&state=${state}&route=${row.route}&stage=${row.stage}`;

const stageColumns = (now: Date): Column<Stage>[] => [
  { id: "route", header: "Route", accessorKey: "name", wide: true },
  { id: "stage", header: "Stage", accessorFn: (row) => `${row.stage}, ${decidersOf(row.ask)}` },
  {
    id: "open",
    header: "Waits",
    accessorKey: "open",
    cell: ({ row }) => to(row.original.open, atStage(row.original, "open")),
  },
  { id: "oldest", header: "The oldest", accessorFn: (row) => (row.oldest ? away(row.oldest, now) : "") },
  { id: "settled", header: "Decided", accessorKey: "settled" },
  {
    id: "took",
    header: "Half of them within",
    accessorFn: (row) => (row.medianSeconds == null ? "" : lasted(Number(row.medianSeconds))),
  },
  {
    id: "declined",
    header: "Declined",
    accessorKey: "declined",
    cell: ({ row }) => to(row.original.declined, atStage(row.original, "declined")),
  },
  {
    id: "lapsed",
    header: "Lapsed",
    accessorKey: "lapsed",
    cell: ({ row }) => to(row.original.lapsed, atStage(row.original, "lapsed")),
  },
];

type InApplication = Schemas["InApplication"];

const applicationColumns: Column<InApplication>[] = [
  { id: "name", header: "Application", accessorKey: "name", wide: true },
  {
    id: "open",
    header: "Open",
    accessorKey: "open",
    cell: ({ row }) =>
      to(row.original.open, `/requests?tab=all&state=open&application=${row.original.application}`),
  },
  {
    id: "privileged",
    header: "of high risk",
    accessorKey: "privileged",
    cell: ({ row }) =>
      to(
        row.original.privileged,
        `/requests?tab=all&state=open&risk=high&application=${row.original.application}`,
      ),
  },
  {
    id: "approved",
    header: "Approved",
    accessorKey: "approved",
    cell: ({ row }) =>
      to(row.original.approved, `/requests?tab=all&state=approved&application=${row.original.application}`),
  },
  {
    id: "faults",
    header: "Faults",
    accessorKey: "faults",
    cell: ({ row }) => to(row.original.faults, `/tasks?application=${row.original.application}`),
  },
  {
    id: "seats",
    header: "Seats taken",
    accessorFn: (row) => (row.seats == null ? "" : `${row.taken} of ${row.seats}`),
  },
  { id: "asked", header: "Asked for", accessorFn: (row) => `${row.asked}` },
];

/** How requests fare by offer, by stage and by application; each number leads to its list. */
export function RequestNumbers() {
  const now = useNow();
  const offers = useQuery({
    queryKey: ["request-numbers"],
    queryFn: () => data(api.GET("/api/v1/requests/numbers")),
    refetchInterval: 30_000,
  });
  const stages = useQuery({
    queryKey: ["request-numbers", "stages"],
    queryFn: () => data(api.GET("/api/v1/requests/numbers/stages")),
    refetchInterval: 30_000,
  });
  const applications = useQuery({
    queryKey: ["request-numbers", "applications"],
    queryFn: () => data(api.GET("/api/v1/requests/numbers/applications")),
    refetchInterval: 30_000,
  });
  const problem = offers.error ?? stages.error ?? applications.error;
  if (problem) return <Fault problem={problem} />;
  if (!offers.data || !stages.data || !applications.data) return <Waiting what="the numbers" />;
  if (offers.data.length === 0 && applications.data.length === 0) {
    return (
      <Empty title="Nothing was asked for.">How long asks wait, and how they end, would stand here.</Empty>
    );
  }
  return (
    <div className="flex flex-col gap-2">
      <Heading aside="within ninety days">By offer</Heading>
      <Table name="Requests by offer" rows={offers.data} columns={columns(now)} whole />
      <Heading aside="where asks wait, and for whom">By stage</Heading>
      <Table name="Requests by stage" rows={stages.data} columns={stageColumns(now)} whole />
      <Heading aside="what they would open, and what is stuck">By application</Heading>
      <Table name="Requests by application" rows={applications.data} columns={applicationColumns} whole />
    </div>
  );
}
