import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, data } from "../api/client";
import { usePages } from "../api/pages";
import { useZone } from "../api/session";
import { isOpen, useWork, type Work } from "../api/work";
import { GroupPages } from "../frame/group-pages";
import { Badge } from "../parts/badge";
import { Choice } from "../parts/choice";
import { count, day, time } from "../parts/moments";
import { Pairs, Sheet } from "../parts/sheet";
import { Empty, Fault, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";
import { Title } from "../parts/title";
import { WorkLine } from "./work-line";

const columns = (zone: string): Column<Work>[] => [
  {
    id: "what",
    header: "Work",
    accessorKey: "what",
    cell: ({ row }) => <RowLink to={`/work/${row.original.id}`}>{row.original.what}</RowLink>,
  },
  {
    id: "state",
    header: "State",
    accessorKey: "state",
    cell: ({ row }) => <Badge state={row.original.state} />,
  },
  { id: "owner", header: "Begun by", accessorKey: "owner" },
  {
    id: "at",
    header: "At",
    accessorFn: (row) => `${day(row.startedAt, zone)} ${time(row.startedAt, zone)}`,
  },
  { id: "sentence", header: "How far", accessorKey: "sentence", wide: true },
];

/** Long work: what waits, goes on and has ended; it goes on whether or not anybody looks. */
export function WorkPage() {
  const { work } = useParams();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const zone = useZone();
  const open = query.get("open") === "yes";
  const {
    query: asked,
    rows,
    more,
    complete,
    whole,
  } = usePages(
    ["works", open],
    (after) => data(api.GET("/api/v1/progress", { params: { query: { open, after, limit: 100 } } })),
    { refetchInterval: 5_000 },
  );
  const going = rows.filter(isOpen).length;
  return (
    <div className="flex min-h-0 grow flex-col">
      <GroupPages group="flow" name="Around the flow" />
      <Title strong="Long work">
        {going === 0 ? "nothing goes on" : count(going, "piece waits or goes on", "pieces wait or go on")}
      </Title>
      <div className="mt-4 mb-3 flex flex-wrap gap-2 pr-20">
        <Choice
          label="Which"
          all="All of it"
          value={open ? "yes" : ""}
          options={[{ value: "yes", text: "waits or goes on" }]}
          onChange={(value) => setQuery(value ? { open: value } : {}, { replace: true })}
        />
      </div>
      {asked.error && <Fault problem={asked.error} retry={() => void asked.refetch()} />}
      {asked.isPending && !asked.error && <Waiting what="work" />}
      {asked.data && rows.length === 0 && (
        <Empty title={open ? "Nothing waits or goes on." : "No work was begun yet."}>
          Loading a feed, forecasting, loading definitions and carrying out a held change take their time:
          each stands here with how far it is, and can be come back to.
        </Empty>
      )}
      {rows.length > 0 && (
        <Table
          name="Long work"
          rows={rows}
          columns={columns(zone)}
          open={(row) => navigate(`/work/${row.id}?${query}`)}
          more={more}
          complete={complete}
          whole={whole}
        />
      )}
      {work && <WorkSheet id={work} close={() => navigate(`/work?${query}`)} />}
    </div>
  );
}

function WorkSheet({ id, close }: { id: string; close: () => void }) {
  const zone = useZone();
  const { data: work, error } = useWork(id);
  return (
    <Sheet title={work ? work.what : "Work"} close={close}>
      {error && <Fault problem={error} />}
      {!work && !error && <Waiting what="the work" />}
      {work && (
        <>
          <WorkLine work={work} />
          <Pairs
            pairs={[
              ["state", <Badge key="s" state={work.state} />],
              ["begun", `${day(work.startedAt, zone)} ${time(work.startedAt, zone)} by ${work.owner}`],
              ...(work.endedAt
                ? ([["ended", `${day(work.endedAt, zone)} ${time(work.endedAt, zone)}`]] as [
                    string,
                    string,
                  ][])
                : []),
              [
                "number",
                <span key="n" className="font-mono">
                  {work.id}
                </span>,
              ],
            ]}
          />
          {work.kind === "feed-load" && work.result && (
            <p className="mt-4 border-y border-rule py-3">{work.result.sentence}.</p>
          )}
          {work.kind === "export" && work.result && (
            <p className="mt-4 border-y border-rule py-3">
              <a href={`/api/v1/progress/${work.id}/file`} download={work.result.fileName}>
                {work.result.fileName}
              </a>
              , {count(work.result.rows, "row", "rows")}; it is kept for some hours.
            </p>
          )}
          {work.kind === "definitions-load" && work.result && (
            <p className="mt-4 border-y border-rule py-3">
              {count(work.result.differences.length, "definition was changed", "definitions were changed")}.
            </p>
          )}
        </>
      )}
    </Sheet>
  );
}
