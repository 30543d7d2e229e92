import { api, data, type Schemas } from "../api/client";
import { usePages } from "../api/pages";
import { useZone } from "../api/session";
import { day, time } from "../parts/moments";
import { Empty, Fault, Waiting } from "../parts/states";
import { RowLink, Table, type Column } from "../parts/table";
import { MessageState } from "./message-state";

type Message = Schemas["MessageListed"];

const columns = (zone: string, to: (id: string) => string, about: boolean): Column<Message>[] => [
  {
    id: "subject",
    header: "Subject",
    accessorKey: "subject",
    wide: true,
    cell: ({ row }) => <RowLink to={to(row.original.id)}>{row.original.subject}</RowLink>,
  },
  ...(about
    ? [
        {
          id: "about",
          header: "About",
          accessorFn: (row: Message) => row.person ?? "",
        } satisfies Column<Message>,
      ]
    : []),
  { id: "to", header: "To", accessorFn: (row) => row.recipient ?? row.channel },
  { id: "kind", header: "Kind", accessorFn: (row) => row.kind.replace("tickets", "ticket") },
  {
    id: "state",
    header: "State",
    accessorKey: "state",
    cell: ({ row }) => <MessageState state={row.original.state} />,
  },
  {
    id: "at",
    header: "Since",
    accessorFn: (row) => {
      const at = row.settledAt ?? row.createdAt;
      return `${day(at, zone)} ${time(at, zone).slice(0, 5)}`;
    },
  },
  { id: "reason", header: "Why", accessorKey: "reason", wide: true },
];

/** What was told to people and programs outside: all of it, or about one person. */
export function MessagesTable({
  worker,
  state,
  to,
  open,
}: {
  worker?: string;
  state?: string;
  to: (id: string) => string;
  open: (id: string) => void;
}) {
  const zone = useZone();
  const { query, rows, more, complete, whole } = usePages(
    ["messages", worker, state],
    (after) => data(api.GET("/api/v1/messages", { params: { query: { worker, state, after, limit: 100 } } })),
    { refetchInterval: 5_000 },
  );
  if (query.error) return <Fault problem={query.error} retry={() => void query.refetch()} />;
  if (!query.data) return <Waiting what="letters" />;
  if (rows.length === 0) {
    return (
      <Empty title="Nothing was told to anybody.">
        Letters, tickets and what is said in chats would stand here, with what became of each.
      </Empty>
    );
  }
  return (
    <Table
      name="Letters"
      rows={rows}
      columns={columns(zone, to, !worker)}
      open={(row) => open(row.id)}
      more={more}
      complete={complete}
      whole={whole}
    />
  );
}
