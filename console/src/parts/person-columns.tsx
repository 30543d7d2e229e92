import type { Schemas } from "../api/client";
import { RowLink, type Column } from "./table";

type Person = Schemas["Listed"];

/** Who somebody is, as every list of people begins: their name, which opens them, and their number. */
export const whoColumns = (address: (person: Person) => string): Column<Person>[] => [
  {
    id: "name",
    header: "Name",
    accessorKey: "name",
    cell: ({ row }) => (
      <RowLink to={address(row.original)} className="font-bold">
        {row.original.name}
      </RowLink>
    ),
  },
  {
    id: "worker",
    header: "Worker number",
    accessorKey: "worker",
    cell: ({ row }) => <span className="font-mono text-dense">{row.original.worker}</span>,
  },
];
