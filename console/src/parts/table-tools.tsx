import type { Table } from "@tanstack/react-table";
import { Download, SlidersHorizontal } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";
import { saveCsv, saveXlsx } from "./exports";

const item =
  "flex h-8 cursor-pointer items-center rounded-sm pr-4 outline-none data-[highlighted]:bg-muted-wash";

/** Which columns are seen, and what is seen as a file. */
export function TableTools<T>({
  table,
  name,
  complete,
  everything,
}: {
  table: Table<T>;
  name: string;
  complete?: () => Promise<T[]>;
  /** Has the service write the whole list to a file, however long it is. */
  everything?: () => void;
}) {
  const save = async (to: typeof saveCsv) => {
    await rendered(table, (await complete?.())?.length ?? 0);
    const columns = table.getVisibleLeafColumns();
    await to(name, [
      columns.map((column) => String(column.columnDef.header)),
      ...table
        .getRowModel()
        .rows.map((row) => columns.map((column) => String(row.getValue(column.id) ?? ""))),
    ]);
  };
  return (
    <div className="absolute -top-9 right-0 flex gap-1">
      <Menu label="Choose columns" icon={<SlidersHorizontal size={15} aria-hidden />}>
        {table.getAllLeafColumns().map((column) => (
          <DropdownMenu.CheckboxItem
            key={column.id}
            checked={column.getIsVisible()}
            onCheckedChange={(on) => column.toggleVisibility(on)}
            onSelect={(event) => event.preventDefault()}
            className={`${item} pl-7`}
          >
            <DropdownMenu.ItemIndicator className="absolute left-3">✓</DropdownMenu.ItemIndicator>
            {String(column.columnDef.header)}
          </DropdownMenu.CheckboxItem>
        ))}
      </Menu>
      <Menu label="Export what is shown" icon={<Download size={15} aria-hidden />}>
        <DropdownMenu.Item className={`${item} pl-3`} onSelect={() => void save(saveCsv)}>
          as CSV
        </DropdownMenu.Item>
        <DropdownMenu.Item className={`${item} pl-3`} onSelect={() => void save(saveXlsx)}>
          as XLSX
        </DropdownMenu.Item>
        {everything && (
          <DropdownMenu.Item className={`${item} pl-3`} onSelect={everything}>
            everything, with all columns, as CSV
          </DropdownMenu.Item>
        )}
      </Menu>
    </div>
  );
}

/** Waits until the table has all rows that were fetched for it; not for ever, the page may be gone. */
async function rendered<T>(table: Table<T>, rows: number) {
  for (let frames = 0; frames < 100 && table.options.data.length < rows; frames++) {
    await new Promise((next) => requestAnimationFrame(next));
  }
}

function Menu({ label, icon, children }: { label: string; icon: ReactNode; children: ReactNode }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={label}
        title={label}
        className="rounded-sm p-2 text-muted hover:text-ink"
      >
        {icon}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          className="z-50 rounded-sm border border-rule bg-raised p-1 shadow-float"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
