/** Lines as CSV (RFC 4180). A cell that a spreadsheet would run as a formula gets a quote before it. */
export function toCsv(lines: string[][]): string {
  return lines.map((cells) => cells.map(cell).join(",")).join("\r\n") + "\r\n";
}

function cell(text: string): string {
  const safe = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}

/** Gives the browser a file to save. */
export function download(name: string, text: string) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: "text/csv;charset=utf-8" }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
