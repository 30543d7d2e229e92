import {
  flexRender,
  getCoreRowModel,
  getSortedRowModel,
  useReactTable,
  type ColumnDef,
  type Header,
  type SortingState,
  type Table as TanTable,
  type VisibilityState,
} from "@tanstack/react-table";
import { useVirtualizer } from "@tanstack/react-virtual";
import { ArrowDown, ArrowUp, Download, SlidersHorizontal } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useEffect, useRef, useState } from "react";
import { download, toCsv } from "./csv";

const ROW = 36;
const VIRTUAL_FROM = 200;

export type Column<T> = ColumnDef<T, unknown> & { id: string; header: string };

/**
 * A table that stays readable: sticky head, sort, chosen columns, export of what is seen, and only the
 * rows in view once there are many. `more` is called when the end comes near.
 */
export function Table<T>({
  name,
  rows,
  columns,
  open,
  more,
}: {
  name: string;
  rows: T[];
  columns: Column<T>[];
  open?: (row: T) => void;
  more?: () => void;
}) {
  const [sorting, setSorting] = useState<SortingState>([]);
  const [columnVisibility, setColumnVisibility] = useState<VisibilityState>({});
  const table = useReactTable({
    data: rows,
    columns,
    state: { sorting, columnVisibility },
    onSortingChange: setSorting,
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
      <Tools table={table} name={name} />
      <div
        ref={scroller}
        tabIndex={0}
        role="region"
        aria-label={name}
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
                onClick={open && (() => open(row.original))}
                className={`border-t border-rule ${open ? "cursor-pointer hover:bg-stone-wash" : ""}`}
                style={{ height: ROW }}
              >
                {row.getVisibleCells().map((cell) => (
                  <td key={cell.id} className="max-w-80 truncate pr-4 first:pl-1">
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
      className="h-8 pr-4 text-dense font-normal text-stone first:pl-1"
    >
      <button
        type="button"
        onClick={header.column.getToggleSortingHandler()}
        className="inline-flex items-center gap-1 hover:text-ink"
      >
        {flexRender(header.column.columnDef.header, header.getContext())}
        {sorted === "asc" && <ArrowUp size={12} aria-hidden />}
        {sorted === "desc" && <ArrowDown size={12} aria-hidden />}
      </button>
    </th>
  );
}

function Tools<T>({ table, name }: { table: TanTable<T>; name: string }) {
  const save = () => {
    const columns = table.getVisibleLeafColumns();
    const lines = table
      .getRowModel()
      .rows.map((row) => columns.map((column) => String(row.getValue(column.id) ?? "")));
    download(
      `${name.toLowerCase().replaceAll(" ", "-")}.csv`,
      toCsv([columns.map((c) => String(c.columnDef.header)), ...lines]),
    );
  };
  return (
    <div className="absolute -top-9 right-0 flex gap-1">
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          aria-label="Choose columns"
          className="rounded-sm p-2 text-stone hover:text-ink"
        >
          <SlidersHorizontal size={15} aria-hidden />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            className="z-50 rounded-sm border border-rule bg-raised p-1 shadow-float"
          >
            {table.getAllLeafColumns().map((column) => (
              <DropdownMenu.CheckboxItem
                key={column.id}
                checked={column.getIsVisible()}
                onCheckedChange={(on) => column.toggleVisibility(on)}
                onSelect={(event) => event.preventDefault()}
                className="flex h-8 cursor-pointer items-center rounded-sm pr-4 pl-7 outline-none data-[highlighted]:bg-stone-wash"
              >
                <DropdownMenu.ItemIndicator className="absolute left-3">✓</DropdownMenu.ItemIndicator>
                {String(column.columnDef.header)}
              </DropdownMenu.CheckboxItem>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <button
        type="button"
        aria-label="Export what is shown as CSV"
        onClick={save}
        className="rounded-sm p-2 text-stone hover:text-ink"
      >
        <Download size={15} aria-hidden />
      </button>
    </div>
  );
}
