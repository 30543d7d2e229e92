/** Lines as CSV (RFC 4180). A cell that a spreadsheet would run as a formula gets a quote before it. */
export function toCsv(lines: string[][]): string {
  return lines.map((cells) => cells.map(cell).join(",")).join("\r\n") + "\r\n";
}

function cell(text: string): string {
  const safe = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}

/** Saves lines, the heading first, as CSV. */
export async function saveCsv(name: string, lines: string[][]) {
  give(`${file(name)}.csv`, new Blob([toCsv(lines)], { type: "text/csv;charset=utf-8" }));
}

/** Saves lines, the heading first, as a workbook of one sheet (Office Open XML, ECMA-376); all cells are text. */
export async function saveXlsx(name: string, lines: string[][]) {
  const { default: write } = await import("write-excel-file/browser");
  const [heading = [], ...rest] = lines;
  const sheet = [
    heading.map((value) => ({ value, type: String, fontWeight: "bold" as const })),
    ...rest.map((cells) => cells.map((value) => ({ value, type: String }))),
  ];
  const columns = heading.map((_, at) => ({ width: width(lines.map((cells) => cells[at] ?? "")) }));
  give(`${file(name)}.xlsx`, await write(sheet, { sheet: name, columns, stickyRowsCount: 1 }).toBlob());
}

/** Wide enough for most of a column, and never for a whole sentence. */
export function width(cells: string[]): number {
  const lengths = cells.map((each) => each.length).sort((a, b) => a - b);
  const most = lengths[Math.floor(lengths.length * 0.95)] ?? 0;
  return Math.min(60, Math.max(8, most + 2));
}

const file = (name: string) => name.toLowerCase().replaceAll(" ", "-");

/** Gives the browser a file to save. */
function give(name: string, blob: Blob) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
