import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { useZone } from "../api/session";
import { GroupPages } from "../frame/group-pages";
import { ButtonLink } from "../parts/button";
import { ChangeState } from "../parts/change-state";
import { Choice } from "../parts/choice";
import { count, day, time } from "../parts/moments";
import { Empty, Fault, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";
import { Title } from "../parts/title";
import { HeldSheet } from "./held-sheet";

type Held = Schemas["HeldChange"];

const columns = (zone: string): Column<Held>[] => [
  {
    id: "what",
    header: "Change",
    accessorKey: "what",
    cell: ({ row }) => <RowLink to={`/held/${row.original.id}`}>{row.original.what}</RowLink>,
  },
  {
    id: "state",
    header: "State",
    accessorKey: "state",
    cell: ({ row }) => <ChangeState state={row.original.state} />,
  },
  { id: "by", header: "Brought by", accessorKey: "broughtBy" },
  {
    id: "at",
    header: "At",
    accessorFn: (row) => `${day(row.broughtAt, zone)} ${time(row.broughtAt, zone)}`,
  },
  { id: "sentence", header: "Why it is held", accessorKey: "sentence", wide: true },
];

/** Changes that a brake holds, until somebody else releases or drops them. */
export function HeldPage() {
  const { change } = useParams();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const zone = useZone();
  const state = query.get("state") ?? "";
  const {
    query: asked,
    rows,
    more,
    complete,
    whole,
  } = usePages(
    ["held", state],
    (after) =>
      data(
        api.GET("/api/v1/held-changes", {
          params: { query: { state: state || undefined, after, limit: 100 } },
        }),
      ),
    { refetchInterval: 10_000 },
  );
  const waiting = rows.filter((each) => each.state === "held").length;
  return (
    <div className="flex min-h-0 grow flex-col">
      <GroupPages group="flow" name="Around the flow" />
      <Title strong="Held changes" actions={<ButtonLink to="/held/limits">Try other limits</ButtonLink>}>
        {waiting === 0
          ? "no brake holds anything"
          : count(waiting, "waits for somebody to look at it", "wait for somebody to look at them")}
      </Title>
      <div className="mt-4 mb-3 flex flex-wrap gap-2 pr-20">
        <Choice
          label="State"
          all="Any state"
          value={state}
          options={["held", "released", "dropped"].map((value) => ({ value, text: value }))}
          onChange={(value) => setQuery(value ? { state: value } : {}, { replace: true })}
        />
      </div>
      {asked.error && <Fault problem={asked.error} retry={() => void asked.refetch()} />}
      {asked.isPending && !asked.error && <Waiting what="held changes" />}
      {asked.data && rows.length === 0 && (
        <Empty title="No brake holds anything.">
          A feed or a load of definitions that would end too much would stand here, whole, with what it would
          do, until somebody other than who brought it releases or drops it.
        </Empty>
      )}
      {rows.length > 0 && (
        <Table
          name="Held changes"
          rows={rows}
          columns={columns(zone)}
          open={(row) => navigate(`/held/${row.id}?${query}`)}
          more={more}
          complete={complete}
          whole={whole}
        />
      )}
      {change && <HeldSheet id={change} close={() => navigate(`/held?${query}`)} />}
    </div>
  );
}
