import {
  flexRender,
  getCoreRowModel,
  getSortedRowModel,
  useReactTable,
  type ColumnDef,
  type Header,
  type SortingState,
  type VisibilityState,
} from "@tanstack/react-table";
import { useVirtualizer } from "@tanstack/react-virtual";
import { ArrowDown, ArrowUp } from "lucide-react";
import { useEffect, useRef, useState, type KeyboardEvent, type MouseEvent, type ReactNode } from "react";
import { TableTools } from "./table-tools";

const ROW = 36;
const VIRTUAL_FROM = 200;

/** One for all: another one each time would have the rows sorted, and the table drawn, without end. */
const UNSORTED: SortingState = [];

/**
 * `wide`: takes the room the others leave, and is cut where that ends. `aside`: not seen until it is
 * chosen.
 */
export type Column<T> = ColumnDef<T, unknown> & {
  id: string;
  header: string;
  wide?: boolean;
  aside?: boolean;
};

/**
 * How the service sorts a list: which column is which word of it, what it is sorted by now, such as `-name`,
 * and how that changes.
 */
export type Order = { columns: Record<string, string>; value: string; change: (value: string) => void };

function sortingOf({ columns, value }: Order): SortingState {
  const word = value.replace(/^-/, "");
  const id = Object.keys(columns).find((each) => columns[each] === word);
  return id ? [{ id, desc: value.startsWith("-") }] : [];
}

/**
 * A table that stays readable: sticky head, sort, chosen columns, export of what is seen, arrows from row to
 * row, and only the rows in view once there are many. `more` is called when the end comes near; `complete`
 * fetches what is left before an export.
 */
export function Table<T>({
  name,
  rows,
  columns,
  open,
  more,
  complete,
  whole = false,
  order,
  everything,
}: {
  name: string;
  rows: T[];
  columns: Column<T>[];
  open?: (row: T) => void;
  more?: () => void;
  complete?: () => Promise<T[]>;
  /** Whether these are all the rows there are: only then can they be sorted here. */
  whole?: boolean;
  order?: Order;
  everything?: () => void;
}) {
  const [sorting, setSorting] = useState<SortingState>([]);
  const here = whole || !complete;
  const [columnVisibility, setColumnVisibility] = useState<VisibilityState>(() =>
    Object.fromEntries(columns.filter((column) => column.aside).map((column) => [column.id, false])),
  );
  const table = useReactTable({
    data: rows,
    columns: order
      ? columns.map((column) => ({ ...column, enableSorting: column.id in order.columns }))
      : columns,
    state: { sorting: order ? sortingOf(order) : here ? sorting : UNSORTED, columnVisibility },
    // Rows come in pages of the service; else each new list of them would set a page and draw again.
    manualPagination: true,
    onSortingChange: (change) => {
      if (!order) return setSorting(change);
      const [by] = typeof change === "function" ? change(sortingOf(order)) : change;
      order.change(by ? (by.desc ? "-" : "") + order.columns[by.id] : "");
    },
    sortDescFirst: false,
    manualSorting: order !== undefined,
    enableSorting: order !== undefined || here,
    onColumnVisibilityChange: setColumnVisibility,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
  });
  const scroller = useRef<HTMLDivElement>(null);
  const all = table.getRowModel().rows;
  const virtual = all.length > VIRTUAL_FROM;
  const virtualizer = useVirtualizer({
    count: all.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const items = virtualizer.getVirtualItems();
  const shown = virtual ? items.map((item) => all[item.index]!) : all;
  const first = items[0]?.start ?? 0;
  const rest = virtual ? virtualizer.getTotalSize() - (items.at(-1)?.end ?? 0) : 0;
  const last = items.at(-1)?.index ?? 0;
  useEffect(() => {
    if (more && last >= all.length - 20) more();
  }, [last, all.length, more]);

  return (
    <div className="relative flex min-h-0 grow flex-col">
      <TableTools table={table} name={name} complete={complete} everything={everything} />
      {/* Arrows go from row to row, whichever of them has the focus. */}
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions */}
      <div
        ref={scroller}
        tabIndex={0}
        role="region"
        aria-label={name}
        onKeyDown={walk}
        className="min-h-0 grow overflow-auto border-y border-rule"
      >
        <table className="w-full border-collapse text-left text-body">
          <thead className="sticky top-0 z-10 bg-ground">
            <tr>
              {table.getFlatHeaders().map((header) => (
                <Head key={header.id} header={header} />
              ))}
            </tr>
          </thead>
          <tbody>
            {virtual && first > 0 && <tr style={{ height: first }} aria-hidden />}
            {shown.map((row) => (
              <tr
                key={row.id}
                onClick={open && ((event) => plain(event) && open(row.original))}
                className={`border-t border-rule ${open ? "cursor-pointer hover:bg-muted-wash" : ""}`}
                style={{ height: ROW }}
              >
                {row.getVisibleCells().map((cell) => (
                  <td
                    key={cell.id}
                    title={String(cell.getValue() ?? "")}
                    className={`truncate pr-4 first:pl-1 ${(cell.column.columnDef as Column<T>).wide ? "w-full max-w-0" : "max-w-80"}`}
                  >
                    {flexRender(cell.column.columnDef.cell, cell.getContext())}
                  </td>
                ))}
              </tr>
            ))}
            {rest > 0 && <tr style={{ height: rest }} aria-hidden />}
          </tbody>
        </table>
      </div>
    </div>
  );
}

function Head<T>({ header }: { header: Header<T, unknown> }) {
  const sorted = header.column.getIsSorted();
  return (
    <th
      scope="col"
      aria-sort={sorted === "asc" ? "ascending" : sorted === "desc" ? "descending" : "none"}
      className="h-8 pr-4 text-dense font-normal whitespace-nowrap text-muted first:pl-1"
    >
      {header.column.getCanSort() ? (
        <button
          type="button"
          onClick={header.column.getToggleSortingHandler()}
          className="inline-flex items-center gap-1 hover:text-ink"
        >
          {flexRender(header.column.columnDef.header, header.getContext())}
          {sorted === "asc" && <ArrowUp size={12} aria-hidden />}
          {sorted === "desc" && <ArrowDown size={12} aria-hidden />}
        </button>
      ) : (
        flexRender(header.column.columnDef.header, header.getContext())
      )}
    </th>
  );
}

/** Whether a click is meant for this page, and not for a new tab or window. */
const plain = (event: MouseEvent) => !event.ctrlKey && !event.metaKey && !event.shiftKey;

/** Arrows go from row to row by their links; the first and last by Home and End. */
function walk(event: KeyboardEvent<HTMLElement>) {
  const links = [...event.currentTarget.querySelectorAll<HTMLElement>("tbody a")];
  const at = links.indexOf(document.activeElement as HTMLElement);
  const to = { ArrowDown: at + 1, ArrowUp: Math.max(0, at - 1), Home: 0, End: links.length - 1 }[event.key];
  const link = to === undefined ? undefined : links[to];
  if (link) {
    event.preventDefault();
    link.focus();
  }
}

/** What opens a row, as a link: a new tab if asked for, else as a click on the row does. */
export function RowLink({
  to,
  className = "",
  children,
}: {
  to: string;
  className?: string;
  children: ReactNode;
}) {
  return (
    <a
      href={to}
      onClick={(event) => plain(event) && event.preventDefault()}
      className={`no-underline ${className}`}
    >
      {children}
    </a>
  );
}
